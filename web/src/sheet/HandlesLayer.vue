<script setup lang="ts">
/** Handles on the ends of the chosen wall: drag one, and walls that end there come along. */
import { useEventListener } from '@vueuse/core'
import { computed, shallowRef } from 'vue'
import { put, type Of, type Operation, type XY } from '@/job/types'
import { useJob } from '@/job/useJob'
import { useSelection } from '@/job/useSelection'
import { distance, snapped } from '@/sheet/geometry'

const props = defineProps<{ k: number; where: (event: MouseEvent) => XY }>()
const job = useJob()
const selection = useSelection()
const held = shallowRef<{ end: 'a' | 'b'; at: XY } | null>(null)
const wall = computed(() => (selection.element?.kind === 'wall' ? selection.element : null))
const ends = computed(() =>
  wall.value
    ? (['a', 'b'] as const).map((end) => ({
        end,
        at: held.value?.end === end ? held.value.at : (wall.value as Of<'wall'>)[end],
      }))
    : [],
)
const others = computed(() =>
  job.of('wall').filter((w) => w.id !== wall.value?.id && w.storey_id === wall.value?.storey_id),
)

function grab(event: PointerEvent, end: 'a' | 'b'): void {
  if (!wall.value || event.button !== 0) return
  event.stopPropagation()
  held.value = { end, at: wall.value[end] }
}
function move(event: PointerEvent): void {
  if (!held.value || !wall.value) return
  const fixed = wall.value[held.value.end === 'a' ? 'b' : 'a']
  const joined = others.value.filter((w) => !meets(w, held.value?.end))
  const places = joined.flatMap((w) => [w.a, w.b])
  held.value = { ...held.value, at: snapped(props.where(event), fixed, places, 10 / props.k, joined) }
}
function meets(other: Of<'wall'>, end: 'a' | 'b' | undefined): boolean {
  if (!wall.value || !end) return false
  const at = wall.value[end]
  return distance(other.a, at) < 0.005 || distance(other.b, at) < 0.005
}
function drop(): void {
  const now = held.value
  const mine = wall.value
  held.value = null
  if (!now || !mine || distance(mine[now.end], now.at) < 0.005) return
  const from = mine[now.end]
  const along: Operation[] = others.value
    .filter((w) => meets(w, now.end))
    .map((w) => put({ ...w, ...(distance(w.a, from) < 0.005 ? { a: now.at } : { b: now.at }) }))
  job.edit(`Move an end of ${mine.label}`, [put({ ...mine, [now.end]: now.at }), ...along])
}
useEventListener('pointermove', move)
useEventListener('pointerup', drop)
</script>

<template>
  <g v-if="wall" class="handles">
    <line
      v-if="held"
      :x1="ends[0]?.at.x_m"
      :y1="ends[0]?.at.y_m"
      :x2="ends[1]?.at.x_m"
      :y2="ends[1]?.at.y_m"
      :stroke-width="1.6 / k"
      :stroke-dasharray="`${6 / k} ${3 / k}`"
    />
    <rect
      v-for="{ end, at } in ends"
      :key="end"
      data-grip
      :data-end="end"
      :x="at.x_m - 5 / k"
      :y="at.y_m - 5 / k"
      :width="10 / k"
      :height="10 / k"
      :stroke-width="1.5 / k"
      @pointerdown="grab($event, end)"
      @click.stop
    />
  </g>
</template>

<style scoped>
rect {
  fill: var(--paper-raised);
  stroke: var(--heather);
  cursor: move;
}
line {
  stroke: var(--heather);
}
</style>
