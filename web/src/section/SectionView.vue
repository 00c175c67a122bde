<script setup lang="ts">
/** The section: a small upright cut through the building at true height; a floor opens on a press. */
import { useElementSize } from '@vueuse/core'
import { computed, useTemplateRef } from 'vue'
import { useAssessment } from '@/job/useAssessment'
import { useJob } from '@/job/useJob'
import { useSelection } from '@/job/useSelection'
import { useView } from '@/job/useView'
import type { Of, XY } from '@/job/types'

const job = useJob()
const view = useView()
const selection = useSelection()
const assessment = useAssessment()
const host = useTemplateRef<HTMLElement>('host')
const { width } = useElementSize(host)
const HEIGHT = 150

/** Cut along the way on which the houses stand clear of each other. */
const axis = computed<'x_m' | 'y_m'>(() => {
  const houses = new Map<string, XY[]>()
  for (const space of job.of('space')) {
    if (space.space_kind !== 'outdoor')
      houses.set(space.building, [...(houses.get(space.building) ?? []), ...space.outline])
  }
  const clear = (way: 'x_m' | 'y_m'): boolean => {
    const spans = [...houses.values()]
      .map((points) => points.map((p) => p[way]))
      .map((v) => [Math.min(...v), Math.max(...v)] as const)
      .toSorted((a, b) => a[0] - b[0])
    return spans.every(([start], i) => i === 0 || start >= (spans[i - 1]?.[1] ?? 0))
  }
  return houses.size > 1 && !clear('x_m') && clear('y_m') ? 'y_m' : 'x_m'
})
const extent = computed(() => {
  const xs = job.of('space').flatMap((space) => space.outline.map((p) => p[axis.value]))
  return xs.length ? { x0: Math.min(...xs), x1: Math.max(...xs) } : { x0: 0, x1: 10 }
})
const top = (storey: Of<'storey'>): number => storey.elevation_m + storey.ceiling_m + storey.void_m
const zs = computed(() => ({
  low: Math.min(...view.storeys.map((s) => s.elevation_m), 0) - 0.6,
  high: Math.max(...view.storeys.map(top), 3) + 0.6,
}))
const scale = computed(() => ({
  x: (width.value - 12) / Math.max(extent.value.x1 - extent.value.x0, 1),
  z: Math.min((HEIGHT - 24) / (zs.value.high - zs.value.low), 14),
}))
const X = (x: number): number => 6 + (x - extent.value.x0) * scale.value.x
const Z = (z: number): number => HEIGHT - 8 - (z - zs.value.low) * scale.value.z
const floors = computed(() =>
  view.storeys.map((storey) => {
    const houses = new Map<string, { x0: number; x1: number }>()
    for (const space of job.of('space').filter((s) => s.storey_id === storey.id && s.space_kind !== 'outdoor')) {
      const xs = space.outline.map((p) => p[axis.value])
      const known = houses.get(space.building)
      houses.set(space.building, {
        x0: Math.min(known?.x0 ?? Infinity, ...xs),
        x1: Math.max(known?.x1 ?? -Infinity, ...xs),
      })
    }
    const boxes = houses.size ? [...houses.values()] : [extent.value]
    return { storey, boxes, bottom: Z(storey.elevation_m), top: Z(top(storey)) }
  }),
)
const points = computed(() =>
  job.of('access-point').flatMap((point) => {
    const storey = view.storeys.find((s) => s.id === point.storey_id)
    return storey ? [{ id: point.id, x: X(point.at[axis.value]), y: Z(storey.elevation_m + point.height_m) }] : []
  }),
)
const tracks = computed(() =>
  (assessment.found?.runs ?? [])
    .flatMap((run) =>
      run.legs.map((leg) => `M${X(leg.a[axis.value])} ${Z(leg.z0_m)}L${X(leg.b[axis.value])} ${Z(leg.z1_m)}`),
    )
    .join(''),
)
const zero = computed(() => Z(0))
/** Names begin in the first house from the left and end inside the section. */
const LETTER_PX = 6.5
function nameAt(floor: (typeof floors.value)[number]): number {
  const left = X(Math.min(...floor.boxes.map((box) => box.x0))) + 4
  return Math.max(8, Math.min(left, width.value - 8 - floor.storey.label.length * LETTER_PX))
}
</script>

<template>
  <section ref="host" class="section" aria-label="Section">
    <h2 class="quiet">Section</h2>
    <svg :width="width" :height="HEIGHT" role="group" aria-label="Cut through the building">
      <line class="ground" x1="0" :x2="width" :y1="zero" :y2="zero" />
      <g
        v-for="floor in floors"
        :key="floor.storey.id"
        class="floor"
        :class="{ here: view.storey?.id === floor.storey.id }"
        role="button"
        tabindex="0"
        :aria-label="`Open ${floor.storey.label}`"
        :aria-pressed="view.storey?.id === floor.storey.id"
        @click="view.chosenStorey = floor.storey.id"
        @keydown.enter="view.chosenStorey = floor.storey.id"
      >
        <rect
          v-for="(box, i) in floor.boxes"
          :key="i"
          :x="X(box.x0)"
          :width="(box.x1 - box.x0) * scale.x"
          :y="floor.top"
          :height="Math.max(floor.bottom - floor.top, 4)"
        />
      </g>
      <path class="track" :d="tracks" />
      <path
        v-for="point in points"
        :key="point.id"
        class="point"
        :class="{ chosen: selection.selected === point.id }"
        :d="`M${point.x} ${point.y - 1}l4 6.5h-8z`"
      />
      <text
        v-for="floor in floors"
        :key="`n${floor.storey.id}`"
        :x="nameAt(floor)"
        :y="(floor.top + floor.bottom) / 2 + 7"
        :class="{ here: view.storey?.id === floor.storey.id }"
      >
        {{ floor.storey.label }}
      </text>
    </svg>
  </section>
</template>

<style scoped>
.section {
  border-top: 1px solid var(--ink);
  padding: 8px 0 4px;
  min-width: 0;
}
h2 {
  padding: 0 10px 2px;
  font-weight: 400;
  font-size: 0.9rem;
}
.floor {
  cursor: pointer;
}
.floor rect {
  fill: var(--paper-raised);
  stroke: var(--ink);
  stroke-width: 1.3;
}
.floor.here rect {
  fill: var(--heather-tint);
  stroke: var(--heather);
  stroke-width: 1.8;
}
.floor:focus-visible {
  outline: 2px solid var(--heather);
}
.ground {
  stroke: var(--ink-quiet);
  stroke-dasharray: 2 3;
}
.track {
  stroke: var(--tarn);
  stroke-width: 1;
  fill: none;
  opacity: 0.65;
  pointer-events: none;
}
.point {
  fill: var(--paper-raised);
  stroke: var(--ink);
  stroke-width: 1.1;
  pointer-events: none;
}
.point.chosen {
  fill: var(--heather);
}
text {
  font-size: 11px;
  fill: var(--ink);
  pointer-events: none;
  paint-order: stroke;
  stroke: var(--halo);
  stroke-width: 3px;
}
text.here {
  font-weight: 700;
}
</style>
