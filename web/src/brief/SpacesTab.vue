<script setup lang="ts">
/** Who is where at which hour: people, need and profile of every space, and the demand over the day. */
import { vDraft } from '@/ink/draft'
import { computed } from 'vue'
import { put, type Of } from '@/job/types'
import { useAssessment } from '@/job/useAssessment'
import { useJob } from '@/job/useJob'
import InkChart from '@/ink/InkChart.vue'
import { ink, type ChartConfiguration } from '@/ink/charts'
import { useLibrary } from '@/job/useLibrary'
import { useSelection } from '@/job/useSelection'
import { useShape } from '@/job/useShape'
import { useView } from '@/job/useView'

const job = useJob()
const view = useView()
const selection = useSelection()
const library = useLibrary()
const assessment = useAssessment()
const spaces = computed(() =>
  job.of('space').toSorted((a, b) => a.label.localeCompare(b.label, undefined, { numeric: true })),
)
const shaping = useShape()
const demand = computed(() => new Map(assessment.found?.demand.map((d) => [d.space_id, d])))
const total = computed(() => assessment.found?.demand_total ?? [])
const peak = computed(() => [...total.value].sort((a, b) => b.demand_mbps - a.demand_mbps)[0])
const shown = computed(() => (selection.element?.kind === 'space' ? demand.value.get(selection.element.id) : undefined))

function change(space: Of<'space'>, changes: Partial<Of<'space'>>): void {
  job.edit(`Change ${space.label}`, [put({ ...space, ...changes })])
}
/** Whether a space still has what was proposed for it. */
function isProposed(space: Of<'space'>): boolean {
  return space.proposed !== '' && space.proposed === `${space.need} ${space.people} ${space.profile ?? ''}`.trim()
}
const proposals = computed(() => spaces.value.filter(isProposed).length)
function people(space: Of<'space'>, event: Event): void {
  const input = event.target as HTMLInputElement
  const value = Number(input.value)
  if (Number.isInteger(value) && value >= 0) change(space, { people: value })
  else input.value = String(space.people)
}
function byHour(): ChartConfiguration {
  const hours = shown.value?.hours ?? total.value
  return {
    type: 'bar',
    data: {
      labels: hours.map((h) => String(h.hour)),
      datasets: [
        {
          label: 'Mb/s',
          data: hours.map((h) => h.demand_mbps),
          backgroundColor: ink('--heather'),
          barPercentage: 0.9,
          categoryPercentage: 0.95,
        },
      ],
    },
    options: {
      plugins: { legend: { display: false } },
      scales: {
        x: { grid: { display: false }, ticks: { color: ink('--ink-quiet'), maxRotation: 0 } },
        y: {
          beginAtZero: true,
          grid: { color: ink('--rule') },
          ticks: { color: ink('--ink-quiet'), maxTicksLimit: 5 },
          title: { display: true, text: 'Mb/s', color: ink('--ink-quiet') },
        },
      },
    },
  }
}
</script>

<template>
  <div class="hours">
    <div class="chart">
      <h3>{{ shown ? shown.label : 'Whole site' }}: demand by hour</h3>
      <div class="plot">
        <InkChart
          :config="byHour"
          :label="`Demand by hour; the peak is ${peak?.demand_mbps ?? 0} Mb/s at ${peak?.hour ?? 0}:00`"
        />
      </div>
      <p class="quiet">
        <template v-if="peak"
          >Peak of the site
          <button
            type="button"
            class="bare sum-link mono"
            @click="view.openSum = assessment.found?.demand[0]?.peak ?? null"
          >
            {{ peak.demand_mbps }} Mb/s
          </button>
          at {{ peak.hour }}:00 with {{ peak.people }} people; Air carries each space's peak.</template
        >
        <template v-else>Enter people for a space, and its demand over the day appears here.</template>
      </p>
    </div>
    <p v-if="spaces.length" class="propose">
      <button
        type="button"
        class="ink-button"
        :disabled="shaping.busy.value"
        @click="shaping.run('Propose needs from names', { do: 'propose-needs' })"
      >
        Propose from names and kinds
      </button>
      <span v-if="proposals" class="quiet">{{ proposals }} proposed, said by nobody yet: look them through.</span>
    </p>
    <table v-if="spaces.length">
      <thead>
        <tr>
          <th scope="col">Space</th>
          <th scope="col">Need</th>
          <th scope="col">People</th>
          <th scope="col">Hours</th>
          <th scope="col" class="right">Peak</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="space in spaces" :key="space.id" :class="{ chosen: selection.isChosen(space.id) }">
          <th scope="row">
            <button type="button" class="bare" @click="selection.pick($event, space.id)">{{ space.label }}</button>
            <span v-if="isProposed(space)" class="quiet"> proposed</span>
          </th>
          <td>
            <select
              class="field"
              :value="space.need"
              :aria-label="`Need of ${space.label}`"
              @change="change(space, { need: ($event.target as HTMLSelectElement).value })"
            >
              <option v-for="(need, id) in library.shelves?.needs" :key="id" :value="id">{{ need.label }}</option>
            </select>
          </td>
          <td>
            <input
              v-draft="space.people"
              class="field n"
              inputmode="numeric"
              :aria-label="`People in ${space.label}`"
              @change="people(space, $event)"
            />
          </td>
          <td>
            <select
              class="field"
              :value="space.profile ?? ''"
              :aria-label="`Hours of ${space.label}`"
              @change="change(space, { profile: ($event.target as HTMLSelectElement).value || null })"
            >
              <option value="">as usual here</option>
              <option v-for="(profile, id) in library.shelves?.profiles" :key="id" :value="id">
                {{ profile.label }}
              </option>
            </select>
          </td>
          <td class="right">
            <button
              v-if="demand.get(space.id)"
              type="button"
              class="bare sum-link mono"
              @click="view.openSum = demand.get(space.id)?.peak ?? null"
            >
              {{ demand.get(space.id)?.peak.value.toFixed(1) }} Mb/s
            </button>
          </td>
        </tr>
      </tbody>
    </table>
    <p v-else class="quiet">No space is drawn yet. Draw or import the building in Plan, then say who is where.</p>
  </div>
</template>

<style scoped>
.hours {
  display: grid;
  gap: 14px;
}
.chart {
  display: grid;
  gap: 4px;
  max-width: 760px;
}
.plot {
  height: 150px;
  position: relative;
}
p {
  margin: 0;
  font-size: 0.9rem;
}
.propose {
  display: flex;
  gap: 10px;
  align-items: center;
}
table {
  border-collapse: collapse;
  font-size: 0.92rem;
  max-width: 760px;
}
th {
  text-align: left;
  font-weight: 400;
}
thead th {
  color: var(--ink-quiet);
  position: sticky;
  top: -14px;
  background: var(--paper);
}
td,
th {
  padding: 2px 10px 2px 0;
  border-bottom: 1px solid var(--rule);
}
.right {
  text-align: right;
}
.n {
  width: 4.2rem;
}
tr.chosen {
  background: var(--heather-tint);
}
</style>
