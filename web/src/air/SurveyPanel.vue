<script setup lang="ts">
/** Measured against predicted, what it teaches, and the steps of the computation that can be switched. */
import { computed, shallowRef, toRef, watch } from 'vue'
import type { Compared, Measured } from '@/api/schema'
import { api, inForm, take } from '@/api/client'
import { useGuarded } from '@/api/useGuarded'
import StudyBar from '@/air/StudyBar.vue'
import { foundOf, useStudies } from '@/air/useStudies'
import { useMake } from '@/job/make'
import { put, remove, type Of, type Operation } from '@/job/types'
import { useJob } from '@/job/useJob'

const job = useJob()
const make = useMake()
const studies = useStudies()
const { guarded } = useGuarded(toRef(job, 'refusal'))
const looking = useGuarded()
const compared = shallowRef<Compared | null>(null)
const skipped = shallowRef<Measured['skipped']>([])
const points = computed(() => job.of('survey-point'))
const neighbours = computed(() => job.of('neighbour'))
const learned = computed(() => job.of('calibration')[0])
const taught = computed(() => foundOf(studies.all.get('learning'), 'taught')[0])
const model = computed<Of<'air-model'>>(
  () => job.of('air-model')[0] ?? make('air-model', { label: 'How the air is computed' }),
)
const STEPS = [
  ['round', 'What goes round'],
  ['mirrors', 'What walls mirror'],
  ['true_angle', 'True angle at walls'],
  ['area_losses', 'Contents of spaces'],
  ['calibrated', 'What the survey taught'],
] as const

async function send(kind: 'survey' | 'scan' | 'antenna', event: Event): Promise<void> {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  input.value = ''
  if (!file) return
  const call = { params: { path: { job_id: job.id } }, body: inForm(file, file.name) }
  await job.during(() =>
    guarded(async () => {
      const found = (await take(api.POST(`/api/jobs/{job_id}/air/${kind}`, call))) as Measured
      skipped.value = found.skipped
      if (found.operations.length) job.edit(`Take in ${file.name}`.slice(0, 120), found.operations as Operation[])
      else job.refusal = `${file.name} holds no row that can be used. The rows left out are named below.`
    }),
  )
}
async function look(): Promise<void> {
  if (!points.value.length) {
    compared.value = null
    return
  }
  const params = { path: { job_id: job.id } }
  compared.value =
    ((await looking.guarded(() => take(api.GET('/api/jobs/{job_id}/air/compared', { params })))) as
      Compared | undefined) ?? compared.value
}
watch(
  () => [job.revision, job.id] as const,
  () => void look(),
  { immediate: true },
)
function step(name: (typeof STEPS)[number][0]): void {
  job.edit('Change how the air is computed', [put({ ...model.value, [name]: !model.value[name] })])
}
function doors(): void {
  job.edit('Change how the air is computed', [
    put({ ...model.value, doors: model.value.doors === 'closed' ? 'open' : 'closed' }),
  ])
}
function use(): void {
  if (taught.value) job.edit('Use what the survey taught', taught.value.operations as Operation[])
}
function forget(): void {
  job.edit('Remove the survey', [
    ...points.value.map((p) => remove(p.id)),
    ...(learned.value ? [remove(learned.value.id)] : []),
  ])
}
</script>

<template>
  <section class="panel survey" aria-label="Survey">
    <div class="column">
      <h3>How the air is computed</h3>
      <label v-for="[name, label] in STEPS" :key="name"
        ><input
          type="checkbox"
          :checked="model[name]"
          :disabled="name === 'calibrated' && !learned"
          @change="step(name)"
        />
        {{ label }}</label
      >
      <label><input type="checkbox" :checked="model.doors === 'open'" @change="doors" /> Doors open</label>
      <h3>Files in</h3>
      <label class="file ink-button"
        >Survey points<input type="file" accept=".csv,.txt,.xlsx" @change="send('survey', $event)"
      /></label>
      <label class="file ink-button"
        >Scan of neighbours<input type="file" accept=".csv,.txt,.xlsx" @change="send('scan', $event)"
      /></label>
      <label class="file ink-button"
        >Antenna pattern<input type="file" accept=".csv,.txt,.xlsx" @change="send('antenna', $event)"
      /></label>
      <p class="quiet">
        {{ points.length }} survey points, {{ neighbours.length }} neighbours, {{ job.of('antenna').length }} antennas
      </p>
    </div>
    <div class="main">
      <StudyBar
        v-if="points.length"
        kind="learning"
        start="Learn from the survey"
        @begin="studies.begin({ study: 'learning' })"
        ><button type="button" class="ink-button" @click="forget">Remove the survey</button></StudyBar
      >
      <p v-else class="quiet">
        Send a table of survey points with the columns x, y, point, dBm, and storey, band and time where you have them.
        Until then every number is a prediction with the usual error of 6 to 8 dB.
      </p>
      <div v-if="taught" class="taught">
        <p>
          Error <strong class="mono">{{ taught.before.rmse_db.toFixed(1) }} dB</strong> before,
          <strong class="mono">{{ taught.after.rmse_db.toFixed(1) }} dB</strong> after the fit.
        </p>
        <button type="button" class="ink-button primary" @click="use">Use what was learned</button>
      </div>
      <p v-if="learned" class="holds">
        ✓ In use: error on points held out {{ learned.held_out_db.toFixed(1) }} dB, from {{ learned.points }} points.
      </p>
      <div v-if="compared?.residuals.length" class="two">
        <table class="plain-table" aria-label="By space">
          <thead>
            <tr>
              <th>Space</th>
              <th>Points</th>
              <th>Mean off</th>
              <th>RMSE</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="g in compared.by_space" :key="g.name">
              <th scope="row">{{ g.name }}</th>
              <td class="mono">{{ g.count }}</td>
              <td class="mono">{{ g.mean_db.toFixed(1) }} dB</td>
              <td class="mono">{{ g.rmse_db.toFixed(1) }} dB</td>
            </tr>
          </tbody>
        </table>
        <table class="plain-table" aria-label="By wall crossed">
          <thead>
            <tr>
              <th>Through</th>
              <th>Points</th>
              <th>Mean off</th>
              <th>RMSE</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="g in compared.by_wall" :key="g.name">
              <th scope="row">{{ g.name }}</th>
              <td class="mono">{{ g.count }}</td>
              <td class="mono">{{ g.mean_db.toFixed(1) }} dB</td>
              <td class="mono">{{ g.rmse_db.toFixed(1) }} dB</td>
            </tr>
          </tbody>
        </table>
      </div>
      <ul v-if="skipped.length" class="quiet" aria-label="Rows left out">
        <li v-for="row in skipped" :key="row.what">▲ {{ row.what }}: {{ row.why }}</li>
      </ul>
    </div>
  </section>
</template>

<style scoped>
.survey {
  display: grid;
  grid-template-columns: 210px minmax(0, 1fr);
  gap: 16px;
  padding: 8px 12px;
  font-size: 0.92rem;
}
.column {
  display: grid;
  gap: 5px;
  align-content: start;
}
.column label {
  display: flex;
  gap: 6px;
  align-items: center;
  min-height: 26px;
}
h3 {
  font-size: 0.95rem;
  margin: 4px 0 0;
}
.file {
  position: relative;
  justify-content: center;
}
.file input {
  position: absolute;
  inset: 0;
  opacity: 0;
  cursor: pointer;
  width: 100%;
}
.file:focus-within {
  outline: 2px solid var(--heather);
}
.two {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 16px;
  align-items: start;
}
.taught {
  display: flex;
  gap: 12px;
  align-items: center;
}
p {
  margin: 4px 0;
}
input[type='checkbox'] {
  accent-color: var(--heather);
  margin: 0;
}
</style>
