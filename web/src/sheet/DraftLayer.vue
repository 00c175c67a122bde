<script setup lang="ts">
/** What is being drawn, in pencil, with its length beside it. */
import { computed } from 'vue'
import type { XY } from '@/job/types'
import { distance, svgPath } from '@/sheet/geometry'
import { useUnits } from '@/units/useUnits'

const props = defineProps<{ k: number; draft: readonly XY[]; aim: XY | null; typed: string; loose: boolean }>()
const units = useUnits()
const points = computed(() => (props.aim && props.loose ? [...props.draft, props.aim] : [...props.draft]))
const last = computed(() => {
  const [a, b] = points.value.slice(-2)
  if (!a || !b) return null
  return {
    x: (a.x_m + b.x_m) / 2,
    y: (a.y_m + b.y_m) / 2,
    text: props.typed ? `${props.typed}▏` : units.quantity(distance(a, b), 'm', 2),
  }
})
</script>

<template>
  <g class="draft">
    <path
      v-if="points.length > 1"
      :d="svgPath(points)"
      :stroke-width="1.6 / k"
      :stroke-dasharray="`${6 / k} ${3 / k}`"
    />
    <circle v-for="(p, i) in draft" :key="i" :cx="p.x_m" :cy="p.y_m" :r="3.5 / k" :stroke-width="1.4 / k" />
    <g v-if="aim" :transform="`translate(${aim.x_m} ${aim.y_m}) scale(${1 / k})`"
      ><path d="M-9 0h18M0-9v18" stroke-width="1.2"
    /></g>
    <text
      v-if="last && points.length > 1"
      class="mono"
      :transform="`translate(${last.x} ${last.y}) scale(${1 / k})`"
      y="-7"
      >{{ last.text }}</text
    >
  </g>
</template>

<style scoped>
.draft {
  pointer-events: none;
}
path {
  fill: none;
  stroke: var(--heather);
}
circle {
  fill: var(--paper-raised);
  stroke: var(--heather);
}
text {
  text-anchor: middle;
  font-size: 12.5px;
  font-weight: 600;
  fill: var(--heather);
  paint-order: stroke;
  stroke: var(--halo);
  stroke-width: 4px;
}
</style>
