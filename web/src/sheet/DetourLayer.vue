<script setup lang="ts">
/** The pins of the chosen run, and while it is led another way, how it would lie. */
import { computed } from 'vue'
import type { useDetour } from '@/runs/useDetour'
import { useSelection } from '@/job/useSelection'
import { useView } from '@/job/useView'
import { useUnits } from '@/units/useUnits'

const props = defineProps<{ k: number; detour: ReturnType<typeof useDetour> }>()
const view = useView()
const units = useUnits()
const selection = useSelection()
const run = computed(() => (selection.element?.kind === 'link' ? selection.element : null))
const pins = computed(() =>
  (run.value?.pins ?? [])
    .map((pin, n) => ({ n, at: pin.at, storey: pin.storey_id }))
    .filter((pin) => pin.storey === view.storey?.id),
)
const led = computed(() => (props.detour.held.value?.moved ? props.detour.found.value : null))
const legs = computed(() => (led.value?.legs ?? []).filter((leg) => leg.storey_id === view.storey?.id))
function diamond(at: { x_m: number; y_m: number }, r: number): string {
  return `M${at.x_m} ${at.y_m - r}l${r} ${r}l${-r} ${r}l${-r} ${-r}z`
}
</script>

<template>
  <g class="detour">
    <line
      v-for="(leg, i) in legs"
      :key="i"
      :x1="leg.a.x_m"
      :y1="leg.a.y_m"
      :x2="leg.b.x_m"
      :y2="leg.b.y_m"
      :stroke-width="2.2 / k"
      :stroke-dasharray="`${7 / k} ${4 / k}`"
    />
    <path
      v-for="pin in pins"
      :key="pin.n"
      class="pin"
      :data-pin="pin.n"
      :d="diamond(pin.at, 7 / k)"
      :stroke-width="1.6 / k"
      @pointerdown="run && detour.grab($event, { run: run.id, pin: pin.n })"
      @click.stop
    />
    <g v-if="led && detour.held.value" class="says" :class="{ over: !led.holds }">
      <path class="pin held" :d="diamond(detour.held.value.at, 7 / k)" :stroke-width="1.6 / k" />
      <text :x="detour.held.value.at.x_m + 12 / k" :y="detour.held.value.at.y_m - 8 / k" :font-size="13 / k">
        {{ led.holds ? '' : '▲ ' }}{{ units.quantity(led.length_m, 'm') }} of {{ units.quantity(led.limit_m, 'm') }}
      </text>
    </g>
  </g>
</template>

<style scoped>
line {
  stroke: var(--heather);
  pointer-events: none;
}
.pin {
  fill: var(--paper-raised);
  stroke: var(--heather);
  cursor: move;
}
.held {
  fill: var(--heather);
  pointer-events: none;
}
text {
  fill: var(--ink);
  font-family: var(--mono, monospace);
  paint-order: stroke;
  stroke: var(--paper);
  stroke-width: 0.25em;
  pointer-events: none;
}
.over text {
  fill: var(--rust);
}
</style>
