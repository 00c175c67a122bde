<script setup lang="ts">
/** No-go areas, plantings, shafts and lines that are there already. */
import { computed } from 'vue'
import { useAssessment } from '@/job/useAssessment'
import { useJob } from '@/job/useJob'
import { useSelection } from '@/job/useSelection'
import { useView } from '@/job/useView'
import { bounds, centre } from '@/sheet/elements'
import { svgPath } from '@/sheet/geometry'

const props = defineProps<{ k: number }>()
const job = useJob()
const view = useView()
const selection = useSelection()
const assessment = useAssessment()
const here = computed(() => view.storey?.id)
const areas = computed(() => [...job.of('no-go'), ...job.of('planting')].filter((e) => e.storey_id === here.value))
/** What lies in the walls matters where walls and runs are planned. */
const DRAWN = new Set(['plan', 'links', 'runs'])
const lines = computed(() => (DRAWN.has(view.stage) ? job.of('line').filter((e) => e.storey_id === here.value) : []))
/** Pathways are roads: as wide as the runs in them are many. */
const roads = computed(() =>
  (DRAWN.has(view.stage) ? job.of('pathway').filter((e) => e.storey_id === here.value && e.path.length > 1) : []).map(
    (e) => {
      const runs = assessment.found?.pathways.find((p) => p.pathway_id === e.id)?.run_ids.length ?? 0
      return {
        e,
        runs,
        width: 3 + Math.min(runs, 24) / 3,
        middle: e.path[Math.floor((e.path.length - 1) / 2)] ?? { x_m: 0, y_m: 0 },
      }
    },
  ),
)
const shafts = computed(() => {
  const order = view.storeys.map((s) => s.id)
  const at = order.indexOf(here.value ?? '')
  return job.of('shaft').filter((shaft) => {
    const [low = 0, high = 0] = [order.indexOf(shaft.from_storey_id), order.indexOf(shaft.to_storey_id)].toSorted(
      (a, b) => a - b,
    )
    return at >= low && at <= high
  })
})
const DASH = { mains: [8, 3, 2, 3], cable: [5, 3] } as const
const px = (value: number) => value / props.k
const LETTER_PX = 5.6
const nameOf = (e: (typeof areas.value)[number]) => (e.kind === 'no-go' ? `no-go: ${e.reason}` : e.label)
/** A name is written where it does not run far over its area, or when the area is chosen; it is always in the tip. */
const named = computed(() =>
  areas.value.filter((e) => {
    const box = bounds(e.outline)
    return selection.isChosen(e.id) || (box.x1 - box.x0) * props.k > 0.8 * LETTER_PX * nameOf(e).length
  }),
)
</script>

<template>
  <g>
    <path
      v-for="e in areas"
      :key="e.id"
      :d="svgPath(e.outline, true)"
      class="area"
      :class="[e.kind, { chosen: selection.isChosen(e.id) }]"
      :stroke-width="px(1.4)"
      :data-label="e.label"
      @click="selection.pick($event, e.id)"
      ><title>{{ nameOf(e) }}</title></path
    >
    <g
      v-for="e in shafts"
      :key="e.id"
      class="shaft"
      :class="{ chosen: selection.isChosen(e.id) }"
      @click="selection.pick($event, e.id)"
    >
      <path :d="svgPath(e.outline, true)" :stroke-width="px(1.3)" :data-label="e.label" />
      <text :transform="`translate(${centre(e.outline).x_m} ${centre(e.outline).y_m}) scale(${px(1)})`">{{
        e.shaft_kind
      }}</text>
    </g>
    <path
      v-for="e in lines"
      :key="e.id"
      :d="svgPath(e.path)"
      class="line"
      :class="[e.line_kind, { chosen: selection.isChosen(e.id) }]"
      :stroke-width="px(1.8)"
      :stroke-dasharray="DASH[e.line_kind].map(px).join(' ')"
      :data-label="e.label"
      @click="selection.pick($event, e.id)"
    />
    <g
      v-for="road in roads"
      :key="road.e.id"
      class="road"
      :class="{ chosen: selection.isChosen(road.e.id), planned: !road.e.there }"
      :data-label="road.e.label"
      @click="selection.pick($event, road.e.id)"
    >
      <path
        class="edge"
        :d="svgPath(road.e.path)"
        :stroke-width="px(road.width + 2)"
        :stroke-dasharray="road.e.there ? undefined : `${px(9)} ${px(5)}`"
      />
      <path class="bed" :d="svgPath(road.e.path)" :stroke-width="px(road.width)" />
      <path class="catch" :d="svgPath(road.e.path)" :stroke-width="px(10)" />
      <text
        v-if="road.runs"
        class="mono"
        :transform="`translate(${road.middle.x_m} ${road.middle.y_m}) scale(${px(1)})`"
        y="-8"
        >{{ road.runs }}</text
      >
      <title>{{ road.e.label }}: {{ road.runs }} runs</title>
    </g>
    <text
      v-for="e in named"
      :key="`${e.id}-name`"
      class="name"
      :transform="`translate(${centre(e.outline).x_m} ${centre(e.outline).y_m}) scale(${px(1)})`"
      >{{ nameOf(e) }}</text
    >
  </g>
</template>

<style scoped>
.area {
  cursor: pointer;
}
.area.no-go {
  fill: color-mix(in srgb, var(--rust) 13%, transparent);
  stroke: var(--rust);
}
.area.planting {
  fill: color-mix(in srgb, var(--moss) 18%, transparent);
  stroke: var(--moss);
}
.shaft path {
  fill: color-mix(in srgb, var(--ink) 6%, transparent);
  stroke: var(--ink-quiet);
  cursor: pointer;
}
.line {
  fill: none;
  stroke: var(--ink-quiet);
  cursor: pointer;
}
.line.mains {
  stroke: var(--rust);
}
.road {
  cursor: pointer;
}
.road path {
  fill: none;
}
.road .edge {
  stroke: var(--ink-quiet);
}
.road .bed {
  stroke: var(--paper);
}
.road .catch {
  stroke: transparent;
}
.road.chosen .edge {
  stroke: var(--heather);
}
.road.chosen .bed {
  stroke: var(--heather-tint);
}
.area.chosen,
.line.chosen,
.shaft.chosen path {
  stroke: var(--heather);
}
text {
  font-size: 11px;
  text-anchor: middle;
  fill: var(--ink-quiet);
  pointer-events: none;
  paint-order: stroke;
  stroke: var(--halo);
  stroke-width: 3px;
}
</style>
