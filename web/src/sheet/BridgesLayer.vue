<script setup lang="ts">
/** Links without a cable on the sheet: a dashed ridge from end to end, with what it carries written along it. */
import { computed } from 'vue'
import { useAssessment } from '@/job/useAssessment'
import { useJob } from '@/job/useJob'
import { atOf, type Element } from '@/job/types'
import { useSelection } from '@/job/useSelection'
import { useView } from '@/job/useView'
import { storeyOf } from '@/sheet/elements'
import { useUnits } from '@/units/useUnits'

const props = defineProps<{ k: number }>()
const job = useJob()
const view = useView()
const units = useUnits()
const selection = useSelection()
const assessment = useAssessment()
/** What has no cable between its ends, as the core worked it out: bridges, hops from point to point, mains pairs. */
const links = computed(() => [
  ...(assessment.found?.bridges ?? []).map((plan) => ({
    id: plan.link_id,
    ends: plan.ends.map((end) => end.unit_id),
    holds: plan.holds,
    says: plan.holds ? `by air, ${units.quantity(plan.mbps, 'Mb/s', 0)}` : '▲ by air, nothing',
  })),
  ...(assessment.found?.meshes ?? []).flatMap((node) =>
    node.link_id && node.parent_id
      ? [
          {
            id: node.link_id,
            ends: [node.parent_id, node.node_id],
            holds: node.holds,
            says: `${node.holds ? '' : '▲ '}by air, ${units.quantity(node.mbps, 'Mb/s', 0)}`,
          },
        ]
      : [],
  ),
  ...(assessment.found?.mains ?? []).map((plan) => ({
    id: plan.link_id,
    ends: plan.ends,
    holds: plan.holds,
    says: plan.holds ? `over the mains, ${units.quantity(plan.mbps, 'Mb/s', 0)}` : '▲ over the mains, nothing',
  })),
])
const ridges = computed(() =>
  links.value.flatMap((link) => {
    const [one, other] = link.ends.map((id) => job.elements.get(id))
    const [a, b] = [atOf(one), atOf(other)]
    if (!a || !b || ![one, other].some((end) => end && isOn(end))) return []
    const turn = (Math.atan2(b.y_m - a.y_m, b.x_m - a.x_m) * 180) / Math.PI
    const upright = turn > 90 || turn < -90 ? turn + 180 : turn
    // Ends one over the other, or close: the words stand over the upper sign, not across it.
    const short = Math.hypot(b.x_m - a.x_m, b.y_m - a.y_m) * props.k < 90
    const middle = { x: (a.x_m + b.x_m) / 2, y: short ? Math.min(a.y_m, b.y_m) : (a.y_m + b.y_m) / 2 }
    return [{ link, a, b, middle, turn: short ? 0 : upright, rise: short ? -14 : -5 }]
  }),
)
/** A link is drawn on the storey of either end. */
function isOn(end: Element): boolean {
  return storeyOf(end, job.elements) === view.storey?.id
}
const px = (value: number): number => value / props.k
</script>

<template>
  <g
    v-for="ridge in ridges"
    :key="ridge.link.id"
    class="ridge"
    :class="{ dead: !ridge.link.holds, chosen: selection.selected === ridge.link.id }"
    @click="selection.pick($event, ridge.link.id)"
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
      :y="px(ridge.rise)"
      text-anchor="middle"
    >
      {{ ridge.link.says }}
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
