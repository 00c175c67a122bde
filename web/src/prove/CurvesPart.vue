<script setup lang="ts">
/** Curves of a test over frequency, each quantity by itself, the limit as the edge of a hatched band. */
import { computed, ref } from 'vue'
import type { TestCurve } from '@/api/schema'
import InkChart from '@/ink/InkChart.vue'
import { ink, type ChartConfiguration } from '@/ink/charts'

const props = defineProps<{ curves: readonly TestCurve[]; label: string }>()
const quantities = computed(() => [...new Map(props.curves.map((one) => [one.quantity, one.name]))])
const chosen = ref('')
const quantity = computed(() => chosen.value || (quantities.value[0]?.[0] ?? ''))
const mine = computed(() => props.curves.filter((one) => one.quantity === quantity.value))
// Told apart by their dashes: the pairs' own colours are kept for their wires.
const DASHES = [[], [6, 3], [2, 2], [8, 3, 2, 3], [12, 3], [1, 3]]
function config(): ChartConfiguration | null {
  const [first] = mine.value
  if (!first) return null
  const limits = first.f_mhz.flatMap((f, n) => {
    const most = first.limit_db[n]
    return most === null || most === undefined ? [] : [{ x: f, y: most }]
  })
  const lines = mine.value.map((one, n) => ({
    label: one.pair || one.name,
    data: one.f_mhz.map((f, at) => ({ x: f, y: one.value_db[at] ?? 0 })),
    borderColor: ink(one.holds ? '--tarn' : '--rust'),
    borderWidth: one.holds ? 1.2 : 2.2,
    borderDash: DASHES[n % DASHES.length] ?? [],
    pointRadius: one.f_mhz.length > 12 ? 0 : 2.5,
    pointBackgroundColor: ink(one.holds ? '--tarn' : '--rust'),
  }))
  const limit = {
    label: 'limit',
    data: limits,
    borderColor: ink('--ink'),
    borderWidth: 2,
    borderDash: [],
    pointRadius: limits.length > 12 ? 0 : 2.5,
    pointBackgroundColor: ink('--ink'),
  }
  const axis = { ticks: { color: ink('--ink-quiet') }, grid: { color: ink('--rule') } }
  return {
    type: 'scatter',
    data: { datasets: [...lines, limit].map((set) => ({ ...set, showLine: true })) },
    options: {
      scales: {
        x: { ...axis, title: { display: true, text: 'MHz', color: ink('--ink-quiet') } },
        y: { ...axis, title: { display: true, text: 'dB', color: ink('--ink-quiet') } },
      },
      plugins: {
        legend: { position: 'right', labels: { color: ink('--ink'), boxWidth: 22, boxHeight: 0 } },
      },
    },
  }
}
</script>

<template>
  <figure>
    <figcaption role="group" aria-label="Quantity">
      <button
        v-for="[code, name] in quantities"
        :key="code"
        type="button"
        class="ink-button"
        :aria-pressed="code === quantity"
        @click="chosen = code"
      >
        {{ name }}
      </button>
    </figcaption>
    <div class="chart"><InkChart :config="config" :label="`${label}: curves against their limit`" /></div>
  </figure>
</template>

<style scoped>
figure {
  margin: 4px 0 0;
  flex: 1;
  min-width: 20rem;
}
figcaption {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
}
.chart {
  position: relative;
  height: 200px;
  max-width: 40rem;
}
</style>
