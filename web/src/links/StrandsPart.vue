<script setup lang="ts">
/** One cable for several services: what is wanted at its far end, and how it gets there. */
import { computed, ref } from 'vue'
import { api, take } from '@/api/client'
import { useGuarded } from '@/api/useGuarded'
import { useAssessment } from '@/job/useAssessment'
import { useJob } from '@/job/useJob'
import type { Operation } from '@/job/types'
import { useView } from '@/job/useView'
import { useAsked } from '@/job/useAsked'
import { useUnits } from '@/units/useUnits'

const job = useJob()
const view = useView()
const units = useUnits()
const assessment = useAssessment()
const { said, busy, guarded } = useGuarded()
const picked = ref('')
const screens = ref(1)
const serviceThere = ref(false)
const bridges = ref(false)
const runs = computed(() => assessment.found?.runs ?? [])
const run = computed(() =>
  runs.value.some((r) => r.run_id === picked.value) ? picked.value : (runs.value[0]?.run_id ?? ''),
)
const currency = computed(() => job.of('practice')[0]?.currency ?? 'EUR')
const path = { job_id: job.id }
const asked = useAsked(() => {
  if (!run.value) return null
  const query = { run: run.value, screens: screens.value, service_there: serviceThere.value, bridges: bridges.value }
  return take(api.GET('/api/jobs/{job_id}/links/strands', { params: { path, query } }))
}, [run, screens, serviceThere, bridges])
/** What is no number of screens is put back to the last that was. */
function count(event: Event): void {
  const field = event.target as HTMLInputElement
  const value = Number(field.value)
  if (field.value.trim() && Number.isInteger(value) && value >= 0 && value <= 40) screens.value = value
  field.value = String(screens.value)
}
async function tag(): Promise<void> {
  await job.during(async () => {
    await guarded(async () => {
      await job.mustBeSaved()
      const body = { run: run.value }
      const answer = await take(api.POST('/api/jobs/{job_id}/links/strands', { params: { path }, body }))
      job.edit('Share a cable by VLAN', answer.operations as Operation[])
    })
  })
}
</script>

<template>
  <h3>One cable for several services</h3>
  <p v-if="!runs.length" class="quiet">Run cables; how several services share one is worked out here.</p>
  <template v-else>
    <p class="asks">
      <label
        >Run
        <select class="field" :value="run" @change="picked = ($event.target as HTMLSelectElement).value">
          <option v-for="one in runs" :key="one.run_id" :value="one.run_id">
            {{ one.label }} to {{ one.to_label }}
          </option>
        </select></label
      >
      <label>Screens there <input class="field number" :value="screens" inputmode="numeric" @change="count" /></label>
      <label><input v-model="serviceThere" type="checkbox" /> the service enters there</label>
      <label v-if="serviceThere"><input v-model="bridges" type="checkbox" /> its modem only bridges</label>
      <button
        v-if="asked.found.value"
        type="button"
        class="bare sum-link"
        :class="{ fault: !asked.found.value.carried.holds }"
        @click="view.openSum = asked.found.value.carried"
      >
        {{ units.quantity(asked.found.value.carried.value, 'Mb/s', 0) }} together
      </button>
    </p>
    <table v-if="asked.found.value" class="plain-table">
      <thead>
        <tr>
          <th>Way</th>
          <th class="number">Cables</th>
          <th class="number">Parts</th>
          <th>Why, and what to heed</th>
          <th><span class="visually-hidden">Take it</span></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="way in asked.found.value.ways" :key="way.code" :class="{ out: !way.holds }">
          <th scope="row">
            <span :class="way.holds ? 'holds' : 'quiet'" aria-hidden="true">{{ way.holds ? '✓' : '–' }}</span>
            {{ way.label }}
          </th>
          <td class="mono">{{ way.strands }}, there {{ asked.found.value.there }}</td>
          <td class="mono">
            <button type="button" class="bare sum-link" @click="view.openSum = way.cost">
              {{ units.quantity(way.cost.value, currency, 0) }}
            </button>
          </td>
          <td class="words">
            {{ way.why }} {{ way.caution }}
            <span v-if="way.code === 'tagged' && way.holds" class="quiet">
              {{ asked.found.value.services.map((s) => `${s.label} ${s.vlan}`).join(', ') }}
            </span>
          </td>
          <td>
            <button
              v-if="way.code === 'tagged' && way.holds"
              type="button"
              class="ink-button"
              :disabled="busy"
              @click="tag"
            >
              Put the switch there
            </button>
          </td>
        </tr>
      </tbody>
    </table>
    <p v-for="words in [said, asked.said.value].filter(Boolean)" :key="words ?? ''" class="fault" role="alert">
      ▲ {{ words }}
    </p>
  </template>
</template>

<style scoped>
h3 {
  margin: 10px 12px 2px;
  font-size: 0.95rem;
}
p {
  margin: 2px 12px 6px;
}
.asks {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 16px;
  align-items: center;
}
.asks .number {
  width: 3rem;
}
.plain-table {
  max-width: 1080px;
}
.words {
  width: 38%;
}
.out th {
  color: var(--ink-quiet);
}
</style>
