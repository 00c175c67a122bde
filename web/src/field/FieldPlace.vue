<script setup lang="ts">
/** Where a task is: the walls of its storey, and a mark. Cut to what lies near, with the whole storey for the asking. */
import { computed, ref } from 'vue'
import type { Task, WallLine } from '@/api/schema'

const props = defineProps<{ task: Task; walls: readonly WallLine[] }>()
const NEAR_M = 7
const whole = ref(false)
const mine = computed(() => props.walls.filter((wall) => wall.storey_id === props.task.storey_id))
const box = computed(() => {
  const at = props.task.at
  if (!at) return '0 0 1 1'
  if (!whole.value || !mine.value.length) {
    return `${at.x_m - NEAR_M} ${at.y_m - NEAR_M * 0.62} ${2 * NEAR_M} ${2 * NEAR_M * 0.62}`
  }
  const xs = [...mine.value.flatMap((w) => [w.x1, w.x2]), at.x_m]
  const ys = [...mine.value.flatMap((w) => [w.y1, w.y2]), at.y_m]
  const [left, top] = [Math.min(...xs) - 1, Math.min(...ys) - 1]
  return `${left} ${top} ${Math.max(...xs) - left + 1} ${Math.max(...ys) - top + 1}`
})
</script>

<template>
  <figure v-if="task.at">
    <svg :viewBox="box" role="img" :aria-label="`Where it is: ${task.space || task.storey}`">
      <line
        v-for="(wall, n) in mine"
        :key="n"
        :x1="wall.x1"
        :y1="wall.y1"
        :x2="wall.x2"
        :y2="wall.y2"
        vector-effect="non-scaling-stroke"
      />
      <circle :cx="task.at.x_m" :cy="task.at.y_m" :r="whole ? 0.9 : 0.32" />
    </svg>
    <button type="button" class="big" @click="whole = !whole">{{ whole ? 'Near by' : 'The whole storey' }}</button>
  </figure>
</template>

<style scoped>
figure {
  margin: 0;
  display: grid;
  gap: 6px;
}
svg {
  width: 100%;
  max-height: 46vh;
  background: var(--paper-raised);
  border: 1px solid var(--rule);
}
line {
  stroke: var(--ink);
  stroke-width: 2.5;
  stroke-linecap: square;
}
circle {
  fill: var(--heather);
}
</style>
