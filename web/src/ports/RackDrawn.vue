<script setup lang="ts">
/** The elevation itself: units counted from below, what stands in them, dragged by pointer or moved by keys. */
import { computed, ref } from 'vue'
import type { Elevation, Standing } from '@/api/schema'
import { useLibrary } from '@/job/useLibrary'
import { useJob } from '@/job/useJob'
import { useSelection } from '@/job/useSelection'

const UNIT = 44.45
const FRAME = 40
const props = defineProps<{ elevation: Elevation }>()
const emit = defineEmits<{ move: [id: string, unit: number] }>()
const job = useJob()
const library = useLibrary()
const selection = useSelection()
const svg = ref<SVGSVGElement | null>(null)
const held = ref<{ id: string; unit: number; from: number; y: number } | null>(null)
const high = computed(() => props.elevation.height_u * UNIT + 2 * FRAME)
// A rack of few units is not drawn larger than its words want.
const wide = computed(() => props.elevation.wide_mm + 60)
const placed = computed(() => props.elevation.items.filter((one) => one.unit !== null && one.height_u))
const loose = computed(() => props.elevation.items.filter((one) => one.unit === null || !one.height_u))
const unitOf = (one: Standing): number => (held.value?.id === one.element_id ? held.value.unit : (one.unit ?? 1))
const top = (unit: number, height: number): number => FRAME + (props.elevation.height_u - unit - height + 1) * UNIT
function within(unit: number, height: number): number {
  return Math.min(props.elevation.height_u - height + 1, Math.max(1, unit))
}
function grab(event: PointerEvent, one: Standing): void {
  if (event.button !== 0) return
  selection.select(one.element_id)
  ;(event.currentTarget as Element).setPointerCapture(event.pointerId)
  held.value = { id: one.element_id, unit: one.unit ?? 1, from: one.unit ?? 1, y: event.clientY }
}
function drag(event: PointerEvent, one: Standing): void {
  const box = svg.value?.getBoundingClientRect()
  if (!held.value || !box) return
  const units = ((held.value.y - event.clientY) * (high.value / box.height)) / UNIT
  held.value = { ...held.value, unit: within(held.value.from + Math.round(units), one.height_u) }
}
function drop(): void {
  const moved = held.value
  held.value = null
  if (moved && moved.unit !== moved.from) emit('move', moved.id, moved.unit)
}
function key(event: KeyboardEvent, one: Standing): void {
  const by = { ArrowUp: 1, ArrowDown: -1 }[event.key]
  if (event.key === 'Enter') selection.select(one.element_id)
  if (by === undefined) return
  event.preventDefault()
  event.stopPropagation()
  emit('move', one.element_id, within((one.unit ?? 1) + by, one.height_u))
}
/** The ports of a front as small squares, against its right edge. */
function ports(one: Standing): { x: number; y: number }[] {
  const thing = job.elements.get(one.element_id)
  const model = thing?.kind === 'equipment' ? library.shelves?.equipment[thing.model] : undefined
  const count = (model?.ports ?? []).reduce((sum, group) => sum + group.count, 0)
  const rows = count <= 8 ? 1 : 2 * one.height_u
  const columns = Math.ceil(count / rows)
  return Array.from({ length: count }, (_, n) => ({
    x: props.elevation.wide_mm - 40 - (columns - (n % columns)) * 16,
    y: 6 + Math.floor(n / columns) * 18,
  }))
}
</script>

<template>
  <div class="drawn">
    <svg
      ref="svg"
      :style="{ height: `${elevation.height_u * 17 + 30}px` }"
      :viewBox="`-52 0 ${wide} ${high}`"
      role="group"
      :aria-label="`Elevation of ${elevation.label}`"
    >
      <rect class="cabinet" x="0" y="0" :width="elevation.wide_mm" :height="high" />
      <g v-for="unit in elevation.height_u" :key="unit">
        <line class="rail" x1="0" :x2="elevation.wide_mm" :y1="top(unit, 1)" :y2="top(unit, 1)" />
        <text class="unit mono" x="-8" :y="top(unit, 1) + 32">{{ unit }}</text>
      </g>
      <g
        v-for="one in placed"
        :key="one.element_id"
        class="thing"
        :class="{
          rear: one.face === 'rear',
          chosen: selection.selected === one.element_id,
          proposed: one.state === 'proposed',
          clashes: one.clashes,
        }"
        :transform="`translate(14 ${top(unitOf(one), one.height_u)})`"
        role="button"
        tabindex="0"
        :data-unit="unitOf(one)"
        :aria-label="`${one.label}, ${one.what}, unit ${one.unit}, ${one.state}${one.clashes ? ', clashes' : ''}`"
        @pointerdown="grab($event, one)"
        @pointermove="drag($event, one)"
        @pointerup="drop"
        @pointercancel="held = null"
        @keydown="key($event, one)"
      >
        <rect x="0" y="1" :width="elevation.wide_mm - 28" :height="one.height_u * UNIT - 2" />
        <rect v-for="(port, n) in ports(one)" :key="n" class="port" :x="port.x" :y="port.y" width="12" height="12" />
        <text x="10" :y="(one.height_u * UNIT) / 2 + 9">
          {{ one.clashes ? '▲ ' : '' }}{{ one.label }}{{ one.face === 'rear' ? ' (rear)' : '' }}
        </text>
      </g>
    </svg>
    <ul v-if="loose.length">
      <li v-for="one in loose" :key="one.element_id">
        <button type="button" class="bare" @click="selection.select(one.element_id)">{{ one.label }}</button>
        <span :class="one.height_u ? 'fault' : 'quiet'"> {{ one.height_u ? '▲ ' : '' }}{{ one.state }}</span>
      </li>
    </ul>
    <p v-if="!elevation.items.length" class="quiet">Nothing stands in it yet: add a switch, a panel, a supply above.</p>
  </div>
</template>

<style scoped>
.drawn {
  min-height: 0;
  overflow: auto;
}
svg {
  display: block;
  touch-action: none;
}
.cabinet {
  fill: var(--paper);
  stroke: var(--ink);
  stroke-width: 5;
}
.rail {
  stroke: var(--rule);
  stroke-width: 1.5;
}
.unit {
  font-size: 26px;
  text-anchor: end;
  fill: var(--ink-quiet);
}
.thing {
  cursor: grab;
  outline: none;
}
.thing > rect:first-of-type {
  fill: var(--paper-raised);
  stroke: var(--ink);
  stroke-width: 3;
}
.thing.rear > rect:first-of-type {
  fill: none;
}
.thing.proposed > rect:first-of-type {
  stroke-dasharray: 12 6;
}
.thing.chosen > rect:first-of-type,
.thing:focus-visible > rect:first-of-type {
  stroke: var(--heather);
  stroke-width: 6;
}
.thing.clashes > rect:first-of-type {
  stroke: var(--rust);
}
.thing.clashes text {
  fill: var(--rust);
}
.port {
  fill: none;
  stroke: var(--tarn);
  stroke-width: 2;
}
.thing text {
  font-size: 30px;
  fill: var(--ink);
  pointer-events: none;
}
ul {
  list-style: none;
  padding: 0;
  margin: 4px 0;
  font-size: 0.9rem;
}
</style>
