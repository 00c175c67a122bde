<script setup lang="ts">
/** Labels of runs by a scheme: what each is called now and then, and all of them changed by one edit. */
import { computed, ref, shallowRef, watch } from 'vue'
import type { Labels } from '@/api/schema'
import { api, take } from '@/api/client'
import { useGuarded } from '@/api/useGuarded'
import { useAssessment } from '@/job/useAssessment'
import { useJob } from '@/job/useJob'
import { useLibrary } from '@/job/useLibrary'
import { useSelection } from '@/job/useSelection'
import type { Operation } from '@/job/types'
import { useSuggestion } from '@/stages/actions/useSuggestion'

const job = useJob()
const library = useLibrary()
const selection = useSelection()
const assessment = useAssessment()
const { said, guarded } = useGuarded()
const { busy, suggest } = useSuggestion()
const scheme = ref('panel')
const found = shallowRef<Labels | null>(null)
const name = computed(() => library.read?.labels[scheme.value]?.label.toLowerCase() ?? '')

watch(
  [scheme, () => assessment.revision],
  async () => {
    const params = { path: { job_id: job.id }, query: { scheme: scheme.value } }
    found.value = (await guarded(() => take(api.GET('/api/jobs/{job_id}/runs/labels', { params })))) ?? found.value
  },
  { immediate: true },
)
function use(): void {
  const params = { path: { job_id: job.id } }
  const body = { scheme: scheme.value }
  const ask = async () => {
    const answer = await take(api.POST('/api/jobs/{job_id}/runs/labels', { params, body }))
    return { operations: answer.operations as Operation[] }
  }
  void suggest(ask, `Label the runs by ${name.value}`, 'Every run is called so already.')
}
</script>

<template>
  <section class="panel" aria-label="Labels">
    <p class="head">
      <label
        >Label by
        <select v-model="scheme" class="field">
          <option v-for="(one, code) in library.read?.labels" :key="code" :value="code">{{ one.label }}</option>
        </select>
      </label>
      <button v-if="found?.changes" type="button" class="ink-button primary" :disabled="busy" @click="use">
        Relabel {{ found.changes }} {{ found.changes === 1 ? 'run' : 'runs' }}
      </button>
      <span v-else-if="found?.runs.length" class="holds">✓ Every run is called so.</span>
      <span v-else-if="found" class="quiet">Run cables; what each is to be called stands here.</span>
      <a v-if="found?.runs.length" :href="`/api/jobs/${job.id}/export/labels.csv?scheme=${scheme}`">Old to new, CSV</a>
    </p>
    <p v-if="said" class="fault" role="alert">▲ {{ said }}</p>
    <table v-if="found?.runs.length" class="plain-table">
      <thead>
        <tr>
          <th>Now</th>
          <th>Then, at both ends</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="run in found.runs" :key="run.run_id">
          <th scope="row" class="mono">
            <button type="button" class="bare" @click="selection.select(run.run_id)">{{ run.old }}</button>
          </th>
          <td class="mono new" :class="{ quiet: run.old === run.new }">{{ run.new }}</td>
        </tr>
      </tbody>
    </table>
  </section>
</template>

<style scoped>
.plain-table td.new {
  text-align: left;
}
</style>
