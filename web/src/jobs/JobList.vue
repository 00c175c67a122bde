<script setup lang="ts">
/** The job list: open one, start one, bring one in from its file, and what waits or lies in the bin. */
import { onMounted, ref, shallowRef } from 'vue'
import { useRouter } from 'vue-router'
import type { JobListed } from '@/api/schema'
import { api, take } from '@/api/client'
import { useGuarded } from '@/api/useGuarded'
import JobBin from '@/jobs/JobBin.vue'
import WaitingWork from '@/jobs/WaitingWork.vue'
import { exportsOf } from '@/jobs/files'
import { bringIn, putInBin } from '@/jobs/rescue'
import { when } from '@/jobs/when'
import { useOutbox } from '@/job/useOutbox'

type SiteKind = 'school' | 'home' | 'clinic' | 'office' | 'shop'
const KINDS: readonly SiteKind[] = ['school', 'home', 'clinic', 'office', 'shop']
const router = useRouter()
const outbox = useOutbox()
const jobs = shallowRef<readonly JobListed[] | null>(null)
const binned = shallowRef<readonly JobListed[]>([])
const name = ref('')
const kind = ref<SiteKind>('home')
const { said, guarded: attempt } = useGuarded()

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
async function bin(job: JobListed): Promise<void> {
  await putInBin(job.id)
  await load()
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
  <main class="list">
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
      <table v-if="jobs?.length">
        <thead>
          <tr>
            <th scope="col">Job</th>
            <th scope="col">Elements</th>
            <th scope="col">Changed</th>
            <th scope="col">Files</th>
            <td></td>
          </tr>
        </thead>
        <tbody>
          <tr v-for="job in jobs" :key="job.id">
            <td>
              <RouterLink :to="`/jobs/${job.id}`">{{ job.name }}</RouterLink>
              <span v-if="waitingOf(job)" class="waits">{{ waitingOf(job) }} waiting</span>
            </td>
            <td class="mono">{{ job.elements }}</td>
            <td>{{ when(job.changed) }}</td>
            <td>
              <a
                v-for="file in exportsOf(job.id)"
                :key="file.href"
                class="file"
                :href="file.href"
                :aria-label="`${file.label} of ${job.name}`"
                >{{ file.label }}</a
              >
            </td>
            <td class="end">
              <button
                type="button"
                class="ink-button"
                :aria-label="`Put ${job.name} in the bin`"
                title="It stays in the bin for a while and can be put back"
                @click="attempt(() => bin(job))"
              >
                Bin
              </button>
            </td>
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
  max-width: 860px;
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
td:first-child {
  font-size: 1.05rem;
  font-weight: 700;
}
.waits {
  margin-left: 8px;
  font-weight: 400;
  font-size: 0.88rem;
  color: var(--rust);
}
.end {
  text-align: right;
}
.file {
  margin-right: 12px;
  font-size: 0.88rem;
  white-space: nowrap;
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
