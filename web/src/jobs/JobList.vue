<script setup lang="ts">
/** The job list: open one, start one, bring one in from its file. */
import { onMounted, ref, shallowRef } from 'vue'
import { useRouter } from 'vue-router'
import type { JobListed, JobState } from '@/api/schema'
import { api, take } from '@/api/client'
import { useGuarded } from '@/api/useGuarded'
import { exportsOf } from '@/jobs/files'

type SiteKind = 'school' | 'home' | 'clinic' | 'office' | 'shop'
const KINDS: readonly SiteKind[] = ['school', 'home', 'clinic', 'office', 'shop']
const router = useRouter()
const jobs = shallowRef<readonly JobListed[] | null>(null)
const name = ref('')
const kind = ref<SiteKind>('home')
const { said, guarded: attempt } = useGuarded()

async function load(): Promise<void> {
  jobs.value = (await take(api.GET('/api/jobs'))).jobs
}
async function start(): Promise<void> {
  if (!name.value.trim()) {
    said.value = 'Give the job a name first.'
    return
  }
  const made = await take(api.POST('/api/jobs', { body: { name: name.value.trim(), site_kind: kind.value } }))
  await router.push(`/jobs/${made.id}`)
}
async function bringIn(event: Event): Promise<void> {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  if (!file) return
  const text = await file.text()
  input.value = ''
  const made = await take(
    api.POST('/api/import', {
      body: text as never,
      bodySerializer: (body: unknown) => body as string,
      headers: { 'Content-Type': 'application/json' },
    }),
  )
  await router.push(`/jobs/${(made as JobState).id}`)
}
function when(text: string): string {
  return new Date(`${text}Z`).toLocaleString('en-GB', { dateStyle: 'medium', timeStyle: 'short' })
}
onMounted(() => void attempt(load))
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
    <section aria-labelledby="jobs">
      <h2 id="jobs">Jobs</h2>
      <table v-if="jobs?.length">
        <thead>
          <tr>
            <th scope="col">Job</th>
            <th scope="col">Elements</th>
            <th scope="col">Changed</th>
            <th scope="col">Files</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="job in jobs" :key="job.id">
            <td>
              <RouterLink :to="`/jobs/${job.id}`">{{ job.name }}</RouterLink>
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
            @change="attempt(() => bringIn($event))"
        /></label>
      </section>
    </div>
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
