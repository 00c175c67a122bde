<script setup lang="ts">
/** Scale bar, the ramp with its figures, and the spot height under the pointer. */
import { computed } from 'vue'
import { useAirView } from '@/air/useAirView'
import { useJob } from '@/job/useJob'
import { useLibrary } from '@/job/useLibrary'
import { figure, LEVELS, tints } from '@/sheet/terrain'
import { usePreferences } from '@/units/preferences'
import { useUnits } from '@/units/useUnits'

const props = defineProps<{
  k: number
  terrain: boolean
  spot: number | null
  spots: readonly { band: string; level: number | null }[]
  at: { x_m: number; y_m: number } | null
  levels?: readonly number[]
}>()
const job = useJob()
const library = useLibrary()
const airView = useAirView()
const preferences = usePreferences()
const units = useUnits()
const STEPS = [0.5, 1, 2, 5, 10, 20, 50, 100, 200]
const BAR_PX = 130

const bar = computed(() => {
  const one = preferences.units === 'imperial' ? 0.3048 : 1
  const shown = STEPS.filter((step) => step * one * props.k <= BAR_PX).at(-1) ?? STEPS[0] ?? 1
  return { px: shown * one * props.k, text: preferences.units === 'imperial' ? `${shown} ft` : `${shown} m` }
})
const levels = computed(() => props.levels ?? LEVELS)
const ramp = computed(() => (airView.signal === 'server' ? [] : tints(preferences.night, levels.value)))
const name = computed(() => (airView.compare?.how === 'difference' ? 'difference' : airView.signal))
const layer = computed(() => library.shelves?.layers[name.value])
const title = computed(
  () =>
    `${(layer.value?.label ?? '').toLowerCase().replace('snr', 'SNR').replace('phy', 'PHY')}, ${airView.way === 'weaker' ? 'weaker way' : airView.way}, ${airView.band} GHz${layer.value?.unit ? `, ${layer.value.unit}` : ''}`,
)
const known = computed(() => {
  const learned = job.of('calibration')[0]
  const inUse = learned && (job.of('air-model')[0]?.calibrated ?? true)
  return inUse
    ? `± ${learned.held_out_db.toFixed(0)} dB, from ${learned.points} survey points`
    : '± 8 dB, nothing measured'
})
function height(level: number | null): string {
  if (level === null || Number.isNaN(level)) return 'no need here'
  if (name.value === 'server') return 'one tint for each serving point'
  if (layer.value?.unit === 'dBm' && level < -140) return 'no signal'
  return units.quantity(level, layer.value?.unit ?? 'dBm', 1)
}
</script>

<template>
  <div class="legend">
    <div class="bar" :aria-label="`Scale bar, ${bar.text}`" role="img">
      <svg :width="bar.px + 2" height="8" aria-hidden="true">
        <rect x="1" y="1" :width="bar.px / 2" height="5" class="full" />
        <rect :x="1 + bar.px / 2" y="1" :width="bar.px / 2" height="5" class="empty" />
      </svg>
      <span class="mono">{{ bar.text }}</span>
    </div>
    <div v-if="terrain" class="ramp">
      <div class="swatches" role="img" :aria-label="`Tints from ${levels[0]} to ${levels.at(-1)} ${layer?.unit ?? ''}`">
        <span v-for="(colour, i) in ramp" :key="i" :style="{ background: colour }"
          ><i class="mono">{{ levels[i] === undefined ? '' : figure(levels[i]) }}</i></span
        >
      </div>
      <div class="words">
        <span>{{ title }}</span><span v-if="name === 'best' || name === 'second' || name === 'failed'" class="hatch"
          >under need</span
        ><span v-if="airView.failed" class="fault">▲ {{ job.elements.get(airView.failed)?.label }} failed</span
        ><span>{{ known }}</span>
      </div>
    </div>
    <div v-if="at" class="spot mono">
      <span v-if="spot !== null" class="height">{{ height(spot) }}</span>
      <span v-for="each in spots" :key="each.band" class="quiet">{{ each.band }} GHz {{ height(each.level) }}</span>
      <span class="quiet place">{{ units.quantity(at.x_m, 'm', 1) }}, {{ units.quantity(at.y_m, 'm', 1) }}</span>
    </div>
  </div>
</template>

<style scoped>
.legend {
  position: absolute;
  left: 10px;
  right: 10px;
  bottom: 8px;
  display: flex;
  gap: 22px;
  align-items: flex-end;
  font-size: 0.82rem;
  pointer-events: none;
}
.legend > * {
  background: var(--halo);
  padding: 2px 4px;
}
.bar {
  display: flex;
  gap: 6px;
  align-items: center;
}
.full {
  fill: var(--ink);
  stroke: var(--ink);
}
.empty {
  fill: var(--paper);
  stroke: var(--ink);
}
.swatches {
  display: flex;
}
.swatches span {
  width: 32px;
  height: 10px;
  position: relative;
}
.swatches i {
  position: absolute;
  right: -13px;
  top: 10px;
  font-style: normal;
  font-size: 0.76rem;
  width: 26px;
  text-align: center;
  color: var(--ink);
}
.words {
  display: flex;
  flex-wrap: wrap;
  gap: 0 14px;
  margin-top: 15px;
  color: var(--ink);
}
.words span,
.bar {
  white-space: nowrap;
}
.hatch::before {
  content: '';
  display: inline-block;
  width: 20px;
  height: 9px;
  margin-right: 5px;
  border: 1px solid var(--rust);
  background: repeating-linear-gradient(135deg, transparent 0 3px, var(--rust) 3px 4px);
}
.spot {
  margin-left: auto;
  display: grid;
  justify-items: end;
  line-height: 1.3;
  white-space: nowrap;
}
.height {
  font-weight: 600;
}
</style>
