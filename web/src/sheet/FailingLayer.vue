<script setup lang="ts">
/** What a failure costs, on the sheet: what is gone is crossed out, what is cut off ringed, spaces without need hatched. */
import { computed } from 'vue'
import { atOf } from '@/job/types'
import { useJob } from '@/job/useJob'
import { useView } from '@/job/useView'
import { useFailing } from '@/links/useFailing'
import { storeyOf } from '@/sheet/elements'

const props = defineProps<{ k: number }>()
const job = useJob()
const view = useView()
const failing = useFailing()
const spaces = computed(() =>
  job.of('space').filter((space) => space.storey_id === view.storey?.id && failing.lost.has(space.id)),
)
function placesOf(ids: ReadonlySet<string>): { id: string; x: number; y: number }[] {
  return [...ids].flatMap((id) => {
    const element = job.elements.get(id)
    const at = atOf(element)
    return element && at && storeyOf(element, job.elements) === view.storey?.id ? [{ id, x: at.x_m, y: at.y_m }] : []
  })
}
const cut = computed(() => placesOf(failing.cut))
const gone = computed(() => placesOf(failing.erased))
const px = (value: number): number => value / props.k
function outline(points: readonly { x_m: number; y_m: number }[]): string {
  return points.map((p) => `${p.x_m},${p.y_m}`).join(' ')
}
</script>

<template>
  <g v-if="failing.shown" class="failing">
    <defs>
      <pattern
        id="failing-hatch"
        patternUnits="userSpaceOnUse"
        :width="px(7)"
        :height="px(7)"
        patternTransform="rotate(45)"
      >
        <line x1="0" y1="0" x2="0" :y2="px(7)" :stroke-width="px(1.6)" />
      </pattern>
    </defs>
    <polygon v-for="space in spaces" :key="space.id" class="lost" :points="outline(space.outline)" />
    <circle
      v-for="one in cut"
      :key="one.id"
      class="cut"
      :cx="one.x"
      :cy="one.y"
      :r="px(13)"
      :stroke-width="px(2)"
      :stroke-dasharray="`${px(3)} ${px(3)}`"
    />
    <path
      v-for="one in gone"
      :key="`x${one.id}`"
      class="gone"
      :d="`M${one.x - px(10)} ${one.y - px(10)}l${px(20)} ${px(20)}m0 ${-px(20)}l${-px(20)} ${px(20)}`"
      :stroke-width="px(2.4)"
    />
  </g>
</template>

<style scoped>
.failing {
  pointer-events: none;
}
pattern line {
  stroke: var(--rust);
  opacity: 0.5;
}
.lost {
  fill: url(#failing-hatch);
}
.cut {
  fill: none;
  stroke: var(--rust);
}
.gone {
  stroke: var(--rust);
  fill: none;
}
</style>
