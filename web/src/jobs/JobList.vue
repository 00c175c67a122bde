<script setup lang="ts">
/** The job list: open one, start one, bring one in from its file, and what waits or lies in the bin. */
import { onMounted, ref, shallowRef } from 'vue'
import { useRouter } from 'vue-router'
import type { JobListed } from '@/api/schema'
import { api, take } from '@/api/client'
import { useGuarded } from '@/api/useGuarded'
import JobBin from '@/jobs/JobBin.vue'
import WaitingWork from '@/jobs/WaitingWork.vue'
import JobRow from '@/jobs/JobRow.vue'
import { bringIn, change, duplicate, putInBin } from '@/jobs/rescue'
import { useDrop } from '@/jobs/useDrop'
import { useJobTable, type SortBy } from '@/jobs/useJobTable'
import { useImport } from '@/job/useImport'
import { useOutbox } from '@/job/useOutbox'

type SiteKind = 'school' | 'home' | 'clinic' | 'office' | 'shop'
const KINDS: readonly SiteKind[] = ['school', 'home', 'clinic', 'office', 'shop']
const router = useRouter()
const outbox = useOutbox()
const jobs = shallowRef<readonly JobListed[] | null>(null)
const binned = shallowRef<readonly JobListed[]>([])
const name = ref('')
const kind = ref<SiteKind>('home')
const importing = useImport()
const { said, guarded: attempt } = useGuarded()
const table = useJobTable(jobs)
const HEADS: readonly (readonly [SortBy, string])[] = [
  ['name', 'Job'],
  ['open', 'Open'],
  ['elements', 'Elements'],
  ['changed', 'Changed'],
]

async function load(): Promise<void> {
  jobs.value = (await take(api.GET('/api/jobs'))).jobs
  binned.value = (await take(api.GET('/api/bin'))).jobs
}
async function start(): Promise<void> {
  if (!name.value.trim()) {
    said.value = 'Give the job a name first.'
    return
  }
  const made = await take(api.POST('/api/jobs', { body: { name: name.value.trim(), site_kind: kind.value } }))
  await router.push(`/jobs/${made.id}`)
}
async function chosen(event: Event): Promise<void> {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  if (!file) return
  try {
    await router.push(`/jobs/${await bringIn(file)}`)
  } finally {
    input.value = ''
  }
}
/** Do something with a job, and read the list again. */
async function again(doing: Promise<unknown>): Promise<void> {
  await doing
  await load()
}
/** A job file is brought in; a drawing starts a job of its name, and is read there. */
async function dropped(file: File): Promise<void> {
  if (file.name.toLowerCase().endsWith('.json') && !file.name.toLowerCase().endsWith('.geo.json')) {
    await router.push(`/jobs/${await bringIn(file)}`)
    return
  }
  const title = file.name.replace(/\.[^.]+$/, '').slice(0, 80) || 'Drawing'
  const made = await take(api.POST('/api/jobs', { body: { name: title, site_kind: kind.value } }))
  importing.waiting = { jobId: made.id, file }
  await router.push(`/jobs/${made.id}`)
}
const drop = useDrop((file) => void attempt(() => dropped(file)))
function drawing(event: Event): void {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  input.value = ''
  if (file) void attempt(() => dropped(file))
}
function waitingOf(job: JobListed): number {
  return outbox.left.find((one) => one.jobId === job.id)?.edits.length ?? 0
}
onMounted(() => {
  void attempt(load)
  void outbox.round()
})
</script>

<template>
  <main
    class="list"
    :class="{ over: drop.over.value }"
    @dragover="drop.dragover"
    @dragleave="drop.dragleave"
    @drop="drop.drop"
  >
    <svg class="hills" viewBox="0 0 900 150" preserveAspectRatio="none" aria-hidden="true">
      <path
        d="M0 130C120 90 190 20 300 40s150 80 270 60S760 30 900 80M0 145C140 115 200 55 300 70s150 70 270 52S770 62 900 102M0 112C110 66 180-12 300 12s150 86 270 64S750 2 900 56"
      />
    </svg>
    <header>
      <h1>Heathrise</h1>
      <p class="quiet">One model of the building and the job; every figure opens to its sum.</p>
    </header>
    <p v-if="said" class="said" role="alert">▲ {{ said }}</p>
    <WaitingWork />
    <section aria-labelledby="jobs">
      <h2 id="jobs">Jobs</h2>
      <div v-if="jobs?.length" class="finder">
        <input
          v-model="table.text.value"
          class="field"
          type="search"
          aria-label="Find a job"
          placeholder="Find a job"
        />
        <button
          v-if="table.putAway.value || table.archived.value"
          type="button"
          class="bare sum-link"
          :aria-pressed="table.archived.value"
          @click="table.archived.value = !table.archived.value"
        >
          {{ table.archived.value ? 'Back to open jobs' : `Archive: ${table.putAway.value}` }}
        </button>
      </div>
      <table v-if="jobs?.length">
        <thead>
          <tr>
            <td></td>
            <th v-for="[key, word] in HEADS" :key="key" scope="col" :aria-sort="table.sorted(key)">
              <button type="button" class="bare" @click="table.by(key)">
                {{ word }}
                <span v-if="table.sorted(key) !== 'none'" aria-hidden="true">{{
                  table.sorted(key) === 'descending' ? '↓' : '↑'
                }}</span>
              </button>
            </th>
            <td></td>
          </tr>
        </thead>
        <tbody>
          <JobRow
            v-for="job in table.shown.value"
            :key="job.id"
            :job="job"
            :waiting="waitingOf(job)"
            @rename="attempt(() => again(change(job.id, { name: $event })))"
            @duplicate="attempt(() => again(duplicate(job.id)))"
            @archive="attempt(() => again(change(job.id, { archived: !job.archived })))"
            @bin="attempt(() => again(putInBin(job.id)))"
          />
          <tr v-if="!table.shown.value.length">
            <td colspan="6" class="quiet">No job of that name here.</td>
          </tr>
        </tbody>
      </table>
      <p v-else-if="jobs">No job yet. Start one below, or bring one in from its file.</p>
      <p v-else class="quiet">Looking for your jobs…</p>
    </section>
    <div class="two">
      <section aria-labelledby="start">
        <h2 id="start">Start a job</h2>
        <form @submit.prevent="attempt(start)">
          <input
            v-model="name"
            class="field"
            aria-label="Name of the job"
            placeholder="Name of the job"
            maxlength="80"
          />
          <select v-model="kind" class="field" aria-label="Kind of site">
            <option v-for="k in KINDS" :key="k" :value="k">{{ k }}</option>
          </select>
          <button type="submit" class="ink-button primary">Start</button>
        </form>
        <p class="quiet">
          <label class="ink-button"
            >From a drawing<input
              type="file"
              class="visually-hidden"
              accept=".dxf,.ifc,.pdf,.svg,.geojson,image/png,image/jpeg"
              @change="drawing"
          /></label>
          or drop one on this page: DXF, IFC, PDF, SVG or a picture.
        </p>
      </section>
      <section aria-labelledby="bring">
        <h2 id="bring">Bring a job in</h2>
        <label class="ink-button"
          >Choose a job file<input
            type="file"
            accept="application/json,.json"
            class="visually-hidden"
            @change="attempt(() => chosen($event))"
        /></label>
      </section>
    </div>
    <JobBin :jobs="binned" @changed="attempt(load)" />
  </main>
</template>

<style scoped>
.list {
  max-width: 980px;
  margin: 0 auto;
  padding: 56px 24px;
  position: relative;
  display: grid;
  gap: 26px;
}
.hills {
  position: absolute;
  top: 0;
  left: -20%;
  width: 140%;
  height: 150px;
  fill: none;
  stroke: var(--heather);
  opacity: 0.16;
  stroke-width: 1.2;
  pointer-events: none;
}
h1 {
  font-size: 2rem;
}
header p {
  margin: 2px 0 0;
}
h2 {
  border-bottom: 1px solid var(--ink);
  padding-bottom: 3px;
  margin-bottom: 8px;
}
table {
  width: 100%;
  border-collapse: collapse;
}
th {
  text-align: left;
  font-weight: 400;
  color: var(--ink-quiet);
  font-size: 0.9rem;
}
td,
th {
  padding: 5px 12px 5px 0;
  border-bottom: 1px solid var(--rule);
}
.finder {
  display: flex;
  gap: 14px;
  align-items: center;
  margin-bottom: 6px;
}
.finder .field {
  width: 18rem;
}
.over {
  outline: 2px dashed var(--heather);
  outline-offset: -12px;
}
.two {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 32px;
}
form {
  display: flex;
  gap: 6px;
}
form input {
  flex: 1;
  padding: 0.3rem 0.5rem;
}
.said {
  color: var(--rust);
  margin: 0;
}
label.ink-button:focus-within {
  outline: 2px solid var(--heather);
  outline-offset: 1px;
}
</style>
