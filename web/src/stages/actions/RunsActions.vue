<script setup lang="ts">
/** Runs: cables to everything that has too few; schedule, drawings and the set of papers out. */
import { computed } from 'vue'
import { useView } from '@/job/useView'
import SaveAs from '@/stages/actions/SaveAs.vue'
import { api, take } from '@/api/client'
import { useJob } from '@/job/useJob'
import { useSuggestion } from '@/stages/actions/useSuggestion'

const job = useJob()
const { busy, suggest } = useSuggestion()
const view = useView()
const files = computed(() => ({
  'papers.pdf?paper=A3': 'All papers, PDF A3',
  'papers.pdf?paper=A4': 'All papers, PDF A4',
  'schedule.xlsx?': 'Schedule, XLSX',
  'schedule.csv?': 'Schedule, CSV',
  ...Object.fromEntries(
    ['pdf&paper=A4', 'pdf&paper=A3', 'pdf&paper=A1', 'svg', 'dxf'].map((kind) => {
      const [ending = '', paper] = kind.split('&paper=')
      const name = `${view.storey?.label ?? ''}, ${ending.toUpperCase()}${paper ? ` ${paper}` : ''}`
      return [`runs.${ending}?storey_id=${view.storey?.id ?? ''}${paper ? `&paper=${paper}` : ''}`, name]
    }),
  ),
}))
const save = (file: string) => `/api/jobs/${job.id}/export/${file}`
const ask = () => take(api.GET('/api/jobs/{job_id}/runs/suggestion', { params: { path: { job_id: job.id } } }))
</script>

<template>
  <button
    type="button"
    class="ink-button"
    :disabled="busy"
    @click="suggest(ask, 'Run cables to everything', 'Everything has a run, or there is no rack yet.')"
  >
    Run cables to everything
  </button>
  <SaveAs v-if="job.of('link').length" label="Save the runs as" first="Save as…" :files="files" :href="save" />
</template>
