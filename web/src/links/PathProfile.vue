<script setup lang="ts">
/** The path of a bridge cut open: ground with the earth's bulge, what stands on it, the ray and its first zone. */
import { computed } from 'vue'
import type { BridgePlan } from '@/api/schema'
import { useUnits } from '@/units/useUnits'

const props = defineProps<{ bridge: BridgePlan }>()
const units = useUnits()
const WIDE = 720
const TALL = 150
const LEFT = 44
const FOOT = 22
/** A circle's worth of the earth's radius at k = 4/3, in km: d1 d2 / (12.74 k). */
const BULGE = 12.74 * (4 / 3)

const first = computed(() => props.bridge.places[0])
const last = computed(() => props.bridge.places.at(-1))
const length = computed(() => last.value?.distance_m ?? 1)
const a = computed(() => (first.value?.ground_m ?? 0) + props.bridge.ends[0].height_m)
const b = computed(() => (last.value?.ground_m ?? 0) + props.bridge.ends[1].height_m)
function bulge(d: number): number {
  return ((d / 1000) * ((length.value - d) / 1000)) / BULGE
}
function ground(d: number): number {
  const after = props.bridge.places.findIndex((place) => place.distance_m >= d)
  const one = props.bridge.places[Math.max(0, after - 1)]
  const other = props.bridge.places[Math.max(0, after)]
  if (!one || !other || other.distance_m === one.distance_m) return other?.ground_m ?? 0
  const share = (d - one.distance_m) / (other.distance_m - one.distance_m)
  return (one.ground_m ?? 0) + share * ((other.ground_m ?? 0) - (one.ground_m ?? 0))
}
const ray = (d: number): number => a.value + (d / length.value) * (b.value - a.value)
/** The lower edge of what is to be free: as the server says it at the places, an ellipse's shape between. */
const widest = computed(() => {
  const shares = props.bridge.places.map((place, n) => {
    const share = place.distance_m / length.value
    const shape = Math.sqrt(Math.max(0, share * (1 - share)))
    return shape > 0.01 ? (props.bridge.needs_m[n] ?? 0) / shape : 0
  })
  return Math.max(...shares, 0)
})
const needs = (d: number): number => {
  const share = d / length.value
  return widest.value * Math.sqrt(Math.max(0, share * (1 - share)))
}
const marks = computed(() => Array.from({ length: 81 }, (_, n) => (n / 80) * length.value))
const top = computed(() => Math.max(...marks.value.map((d) => ray(d) + needs(d)), ...tops.value.map((t) => t.top)) + 1)
const low = computed(() => Math.min(...marks.value.map((d) => ground(d)), 0) - 0.5)
const tops = computed(() =>
  props.bridge.places
    .filter((place) => (place.obstacle_m ?? 0) > 0)
    .map((place) => ({
      d: place.distance_m,
      base: (place.ground_m ?? 0) + bulge(place.distance_m),
      top: (place.ground_m ?? 0) + bulge(place.distance_m) + (place.obstacle_m ?? 0),
    })),
)
const x = (d: number): number => LEFT + (d / length.value) * (WIDE - LEFT - 10)
const y = (h: number): number => TALL - FOOT - ((h - low.value) / (top.value - low.value)) * (TALL - FOOT - 8)
function path(heights: (d: number) => number, ways: readonly number[] = marks.value): string {
  return ways.map((d, n) => `${n ? 'L' : 'M'}${x(d).toFixed(1)} ${y(heights(d)).toFixed(1)}`).join('')
}
const land = computed(
  () => `${path((d) => ground(d) + bulge(d))}L${x(length.value)} ${y(low.value)}L${x(0)} ${y(low.value)}Z`,
)
const zone = computed(
  () =>
    `${path((d) => ray(d) + needs(d))}${path((d) => ray(d) - needs(d), marks.value.toReversed()).replace('M', 'L')}Z`,
)
const scale = computed(() => [low.value, (low.value + top.value) / 2, top.value].map((h) => Math.round(h) || 0))
</script>

<template>
  <svg
    class="profile"
    :viewBox="`0 0 ${WIDE} ${TALL}`"
    role="img"
    :aria-label="`Path of ${bridge.label}: ${units.quantity(bridge.length_m, 'm')}, antennas at ${units.quantity(bridge.ends[0].height_m, 'm')} and ${units.quantity(bridge.ends[1].height_m, 'm')}`"
  >
    <path class="zone" :d="zone" />
    <path class="land" :d="land" />
    <rect
      v-for="one in tops"
      :key="one.d"
      class="stands"
      :x="x(one.d) - 5"
      :y="y(one.top)"
      width="10"
      :height="Math.max(1, y(one.base) - y(one.top))"
    />
    <path class="ray" :class="{ dead: !bridge.holds }" :d="`M${x(0)} ${y(a)}L${x(length)} ${y(b)}`" />
    <path
      class="mast"
      :d="`M${x(0)} ${y(first?.ground_m ?? 0)}V${y(a)}M${x(length)} ${y(last?.ground_m ?? 0)}V${y(b)}`"
    />
    <text v-for="h in scale" :key="h" class="mono" :x="LEFT - 6" :y="y(h) + 4" text-anchor="end">
      {{ units.quantity(h, 'm', 0) }}
    </text>
    <text class="mono" :x="x(0)" :y="TALL - 6">{{ units.quantity(0, 'm', 0) }}</text>
    <text class="mono" :x="x(length)" :y="TALL - 6" text-anchor="end">{{ units.quantity(length, 'm', 0) }}</text>
    <text class="says" :x="x(length / 2)" :y="TALL - 6" text-anchor="middle">
      tinted: 60 % of the first zone, to be free all along
    </text>
  </svg>
</template>

<style scoped>
.profile {
  display: block;
  width: 100%;
  max-width: 900px;
  height: auto;
}
.zone {
  fill: var(--heather-tint);
  stroke: var(--heather);
  stroke-width: 0.8;
  stroke-dasharray: 3 2;
}
.land {
  fill: var(--rule);
  stroke: var(--ink);
  stroke-width: 1;
}
.stands {
  fill: var(--paper-raised);
  stroke: var(--ink);
  stroke-width: 1.1;
}
.ray {
  stroke: var(--tarn);
  stroke-width: 1.6;
  stroke-dasharray: 7 3;
}
.ray.dead {
  stroke: var(--rust);
}
.mast {
  stroke: var(--ink);
  stroke-width: 2.2;
}
text {
  font-size: 10.5px;
  fill: var(--ink-quiet);
}
</style>
