<script setup lang="ts">
/** Links through the air on the sheet: a dashed ridge from end to end, with what it carries written along it. */
import { computed } from 'vue'
import { useAssessment } from '@/job/useAssessment'
import { useJob } from '@/job/useJob'
import { atOf } from '@/job/types'
import { useSelection } from '@/job/useSelection'
import { useUnits } from '@/units/useUnits'

const props = defineProps<{ k: number }>()
const job = useJob()
const units = useUnits()
const selection = useSelection()
const assessment = useAssessment()
const ridges = computed(() =>
  (assessment.found?.bridges ?? []).flatMap((bridge) => {
    const [a, b] = bridge.ends.map((end) => atOf(job.elements.get(end.unit_id)))
    if (!a || !b) return []
    const turn = (Math.atan2(b.y_m - a.y_m, b.x_m - a.x_m) * 180) / Math.PI
    const upright = turn > 90 || turn < -90 ? turn + 180 : turn
    return [{ bridge, a, b, middle: { x: (a.x_m + b.x_m) / 2, y: (a.y_m + b.y_m) / 2 }, turn: upright }]
  }),
)
function says(bridge: (typeof ridges.value)[number]['bridge']): string {
  return bridge.holds ? `by air, ${units.quantity(bridge.mbps, 'Mb/s', 0)}` : '▲ by air, nothing'
}
const px = (value: number): number => value / props.k
</script>

<template>
  <g
    v-for="ridge in ridges"
    :key="ridge.bridge.link_id"
    class="ridge"
    :class="{ dead: !ridge.bridge.holds, chosen: selection.selected === ridge.bridge.link_id }"
    @click="selection.pick($event, ridge.bridge.link_id)"
  >
    <line
      :x1="ridge.a.x_m"
      :y1="ridge.a.y_m"
      :x2="ridge.b.x_m"
      :y2="ridge.b.y_m"
      :stroke-width="px(1.6)"
      :stroke-dasharray="`${px(10)} ${px(3)} ${px(2)} ${px(3)}`"
    />
    <text
      :transform="`translate(${ridge.middle.x} ${ridge.middle.y}) rotate(${ridge.turn})`"
      :font-size="px(11)"
      :y="px(-5)"
      text-anchor="middle"
    >
      {{ says(ridge.bridge) }}
    </text>
  </g>
</template>

<style scoped>
.ridge {
  cursor: pointer;
}
line {
  stroke: var(--tarn);
}
text {
  fill: var(--ink);
  paint-order: stroke;
  stroke: var(--halo);
  stroke-width: 0.28em;
}
.dead line {
  stroke: var(--rust);
}
.dead text {
  fill: var(--rust);
}
.chosen line {
  stroke: var(--heather);
}
</style>
