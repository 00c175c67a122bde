<script setup lang="ts">
/** Airtime of every radio at every hour, as a heat table; a figure opens to its sum. */
import { computed } from 'vue'
import { useAssessment } from '@/job/useAssessment'
import { useSelection } from '@/job/useSelection'
import { useView } from '@/job/useView'

const view = useView()
const selection = useSelection()
const assessment = useAssessment()
const HOURS = Array.from({ length: 18 }, (_, i) => i + 6)
const loads = computed(() => (assessment.found?.loads ?? []).toSorted((a, b) => b.peak - a.peak))
function heat(share: number): string {
  return `color-mix(in oklab, var(--heather) ${Math.round(Math.min(1, share / 0.8) * 48)}%, transparent)`
}
</script>

<template>
  <section class="panel" aria-label="Airtime">
    <p v-if="!loads.length" class="quiet hint">
      Say in Brief how many people are in which space; the air they ask for is laid on the radios here.
    </p>
    <table v-else class="plain-table heat">
      <thead>
        <tr>
          <th>Radio</th>
          <th>Busiest</th>
          <th v-for="hour in HOURS" :key="hour" class="mono">{{ hour }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="load in loads" :key="load.point_id + load.band">
          <th scope="row">
            <button type="button" class="bare" @click="selection.select(load.point_id)">
              {{ load.label }}, {{ load.band }}
            </button>
          </th>
          <td class="mono" :class="{ fault: load.peak > 0.8, advice: load.peak > 0.5 && load.peak <= 0.8 }">
            <span v-if="load.peak > 0.5" aria-hidden="true">▲ </span
            ><button type="button" class="bare sum-link" @click="view.openSum = load.sum">
              {{ (load.peak * 100).toFixed(0) }} % at {{ load.peak_hour }} h
            </button>
          </td>
          <td v-for="hour in HOURS" :key="hour" class="mono cell" :style="{ background: heat(load.hours[hour] ?? 0) }">
            {{ ((load.hours[hour] ?? 0) * 100).toFixed(0) }}
          </td>
        </tr>
      </tbody>
    </table>
  </section>
</template>

<style scoped>
.hint {
  margin: 10px 12px;
}
.plain-table .cell {
  text-align: right;
  padding: 3px 4px;
  min-width: 22px;
}
.plain-table thead th.mono {
  padding: 3px 4px;
}
.heat thead th {
  text-align: right;
}
.heat thead th:first-child {
  text-align: left;
}
</style>
