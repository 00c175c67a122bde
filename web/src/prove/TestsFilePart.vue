<script setup lang="ts">
/** A file of tests in: what would become of each, before any is taken. */
import { computed, ref } from 'vue'
import { api, inForm, take } from '@/api/client'
import type { TestsRead } from '@/api/schema'
import { useGuarded } from '@/api/useGuarded'
import { useJob } from '@/job/useJob'
import StateMark from '@/prove/StateMark.vue'
import { useProven } from '@/prove/useProven'

const job = useJob()
const proven = useProven()
const { said, busy, guarded } = useGuarded()
const file = ref<File | null>(null)
const chosen = ref<Record<string, string>>({})
const anySite = ref(false)
const read = ref<TestsRead | null>(null)
const runs = computed(() => proven.found?.runs ?? [])
async function send(taking: boolean): Promise<TestsRead | undefined> {
  const sent = file.value
  if (!sent) return undefined
  const by = proven.name.trim() || 'somebody'
  const more = { by, chosen: chosen.value, any_site: String(anySite.value), take: String(taking) }
  const call = { params: { path: { job_id: job.id } }, body: inForm(sent, sent.name, more) as never }
  return (await guarded(() => take(api.POST('/api/jobs/{job_id}/prove/tests', call)))) as TestsRead | undefined
}
async function look(): Promise<void> {
  read.value = (await send(false)) ?? null
}
function pick(event: Event): void {
  const input = event.target as HTMLInputElement
  file.value = input.files?.[0] ?? null
  input.value = ''
  chosen.value = {}
  anySite.value = false
  read.value = null
  void look()
}
function choose(label: string, event: Event): void {
  chosen.value = { ...chosen.value, [label]: (event.target as HTMLSelectElement).value }
  void look()
}
async function takeIn(): Promise<void> {
  if (!(await send(true))) return
  leave()
  job.doubted()
}
function leave(): void {
  read.value = null
  file.value = null
}
</script>

<template>
  <div class="file" :aria-busy="busy">
    <label class="ink-button primary"
      ><input type="file" accept=".csv,.tsv,.txt,.xlsx" aria-label="File of tests" @change="pick" />Read a tester's file
      (CSV, XLSX)</label
    >
    <slot />
    <span v-if="said" class="fault" role="alert"> ▲ {{ said }}</span>
    <template v-if="read">
      <p>
        <strong>{{ read.taken }}</strong> of {{ read.rows.length }} tests can be taken<template v-if="read.skipped"
          >, {{ read.skipped }} rows say nothing</template
        >.
        <button type="button" class="ink-button primary" :disabled="!read.taken || busy" @click="takeIn">
          Take {{ read.taken }} tests
        </button>
        <button type="button" class="ink-button" @click="leave">Leave it</button>
        <label v-if="read.other_site" class="warning"
          ><input v-model="anySite" type="checkbox" @change="look" /> it says {{ read.other_site }}, and is of this job
          all the same</label
        >
      </p>
      <table class="plain-table">
        <thead>
          <tr>
            <th class="number">Row</th>
            <th>Label</th>
            <th>Run</th>
            <th>Tested as</th>
            <th>Result</th>
            <th>Becomes</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in read.rows" :key="row.row">
            <td class="mono">{{ row.row }}</td>
            <th scope="row">{{ row.label }}</th>
            <td>
              <select
                v-if="row.how !== 'label'"
                class="field"
                :value="row.run_id ?? ''"
                :aria-label="`${row.label} is the run`"
                @change="choose(row.label, $event)"
              >
                <option value="">choose…</option>
                <option v-for="run in runs" :key="run.run_id" :value="run.run_id">{{ run.label }}</option>
              </select>
              <template v-else>{{ row.run_label }}</template>
            </td>
            <td class="quiet">
              {{ row.configuration }}<template v-if="row.test_class">, {{ row.test_class }}</template>
            </td>
            <td><StateMark v-if="row.verdict" :state="row.verdict" /></td>
            <td class="words">
              <span v-if="row.problem" class="fault">▲ {{ row.problem }}</span>
              <span v-else-if="row.warning" class="warning">◇ {{ row.warning }}</span>
              <span v-else-if="row.why" class="quiet">{{ row.why }}</span>
            </td>
          </tr>
        </tbody>
      </table>
    </template>
  </div>
</template>

<style scoped>
.file {
  padding: 0 12px 6px;
}
.file p {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
  margin: 6px 0;
}
input[type='file'] {
  position: absolute;
  opacity: 0;
  width: 0;
}
.plain-table {
  width: 100%;
}
</style>
