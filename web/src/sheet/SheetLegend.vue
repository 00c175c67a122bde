<script setup lang="ts">
/** Scale bar, the ramp with its figures, and the spot height under the pointer. */
import { computed } from 'vue'
import { useView } from '@/job/useView'
import { LEVELS, tints } from '@/sheet/terrain'
import { usePreferences } from '@/units/preferences'
import { useUnits } from '@/units/useUnits'

const props = defineProps<{ k: number; terrain: boolean; spot: number | null; at: { x_m: number; y_m: number } | null }>()
const view = useView()
const preferences = usePreferences()
const units = useUnits()
const STEPS = [0.5, 1, 2, 5, 10, 20, 50, 100, 200]
const BAR_PX = 130

const bar = computed(() => {
  const one = preferences.units === 'imperial' ? 0.3048 : 1
  const shown = STEPS.filter((step) => step * one * props.k <= BAR_PX).at(-1) ?? STEPS[0] ?? 1
  return { px: shown * one * props.k, text: preferences.units === 'imperial' ? `${shown} ft` : `${shown} m` }
})
const ramp = computed(() => tints(preferences.night))
const title = computed(() => `${view.signal} signal, ${view.way === 'weaker' ? 'weaker way' : view.way}, ${view.band} GHz`)
</script>

<template>
  <div class="legend">
    <div class="bar" :aria-label="`Scale bar, ${bar.text}`" role="img">
      <svg :width="bar.px + 2" height="8" aria-hidden="true">
        <rect x="1" y="1" :width="bar.px / 2" height="5" class="full" /><rect :x="1 + bar.px / 2" y="1" :width="bar.px / 2" height="5" class="empty" />
      </svg>
      <span class="mono">{{ bar.text }}</span>
    </div>
    <div v-if="terrain" class="ramp">
      <div class="swatches" role="img" :aria-label="`Tints from ${LEVELS[0]} to ${LEVELS.at(-1)} dBm`">
        <span v-for="(colour, i) in ramp" :key="i" :style="{ background: colour }"><i class="mono">{{ LEVELS[i] === undefined ? '' : `\u2212${-LEVELS[i]}` }}</i></span>
      </div>
      <div class="words"><span>{{ title }}, dBm</span><span class="hatch">under need</span><span>± 8 dB, nothing measured</span></div>
    </div>
    <div v-if="at" class="spot mono">
      <span v-if="spot !== null" class="height">{{ spot < -140 ? 'no signal' : units.quantity(spot, 'dBm', 1) }}</span>
      <span class="quiet">{{ units.quantity(at.x_m, 'm', 1) }}, {{ units.quantity(at.y_m, 'm', 1) }}</span>
    </div>
  </div>
</template>

<style scoped>
.legend { position: absolute; left: 10px; right: 10px; bottom: 8px; display: flex; gap: 22px; align-items: flex-end; font-size: 0.82rem; pointer-events: none; }
.legend > * { background: var(--halo); padding: 2px 4px; }
.bar { display: flex; gap: 6px; align-items: center; }
.full { fill: var(--ink); stroke: var(--ink); }
.empty { fill: var(--paper); stroke: var(--ink); }
.swatches { display: flex; }
.swatches span { width: 32px; height: 10px; position: relative; }
.swatches i { position: absolute; right: -13px; top: 10px; font-style: normal; font-size: 0.76rem; width: 26px; text-align: center; color: var(--ink); }
.words { display: flex; flex-wrap: wrap; gap: 0 14px; margin-top: 15px; color: var(--ink); }
.words span, .bar { white-space: nowrap; }
.hatch::before { content: ''; display: inline-block; width: 20px; height: 9px; margin-right: 5px; border: 1px solid var(--rust); background: repeating-linear-gradient(135deg, transparent 0 3px, var(--rust) 3px 4px); }
.spot { margin-left: auto; display: flex; gap: 10px; white-space: nowrap; }
.height { font-weight: 600; }
</style>
