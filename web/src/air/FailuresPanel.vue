<script setup lang="ts">
/** Every single access point failed, one by one: what is lost with each. */
import { computed } from 'vue'
import StudyBar from '@/air/StudyBar.vue'
import { foundOf, useStudies } from '@/air/useStudies'
import { useJob } from '@/job/useJob'
import { useAirView } from '@/air/useAirView'
import { useSelection } from '@/job/useSelection'
import { useView } from '@/job/useView'
import { useUnits } from '@/units/useUnits'

const view = useView()
const selection = useSelection()
const airView = useAirView()
const job = useJob()
const units = useUnits()
const studies = useStudies()
const rows = computed(() =>
  foundOf(studies.all.get('failures'), 'failure').toSorted((a, b) => b.lost.length - a.lost.length),
)
function show(id: string): void {
  airView.failed = airView.failed === id ? null : id
  airView.signal = 'best'
  const point = job.elements.get(id)
  if (point?.kind === 'access-point') view.chosenStorey = point.storey_id
}
</script>

<template>
  <section class="panel" aria-label="Failures">
    <StudyBar kind="failures" start="Fail each point" @begin="studies.begin({ study: 'failures' })"
      ><span class="quiet">Each access point is taken away in turn and every space scored again.</span></StudyBar
    >
    <table v-if="rows.length" class="plain-table">
      <thead>
        <tr>
          <th>Failed</th>
          <th>Spaces still met</th>
          <th>Lost with it</th>
          <th><span class="visually-hidden">What to do</span></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in rows" :key="row.point_id">
          <th scope="row">
            <button type="button" class="bare" @click="selection.select(row.point_id)">{{ row.label }}</button>
          </th>
          <td class="mono">{{ row.met }}</td>
          <td class="lost" :class="row.lost.length ? 'advice' : 'holds'">
            {{
              row.lost.length
                ? `▲ ${row.lost.join(', ')}; ${row.second_only ? 'only the second signal, ' : ''}worst ${units.quantity(row.worst_dbm, 'dBm', 0)}`
                : '✓ nothing'
            }}
          </td>
          <td>
            <button
              type="button"
              class="ink-button"
              :aria-pressed="airView.failed === row.point_id"
              @click="show(row.point_id)"
            >
              Show without it
            </button>
          </td>
        </tr>
      </tbody>
    </table>
  </section>
</template>

<style scoped>
.plain-table .lost {
  white-space: normal;
}
</style>
