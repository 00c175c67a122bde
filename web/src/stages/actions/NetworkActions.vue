<script setup lang="ts">
/** Network: the usual networks, clear of the service's own subnet; all settings as files, without any passphrase. */
import { api, take } from '@/api/client'
import { useJob } from '@/job/useJob'
import SaveAs from '@/stages/actions/SaveAs.vue'
import { useSuggestion } from '@/stages/actions/useSuggestion'

const job = useJob()
const { busy, suggest } = useSuggestion()
const FILES = {
  'settings.json': 'JSON',
  'settings.yaml': 'YAML',
  'settings.zip': 'All (zip)',
  'topology.json': 'Topology',
}
const ask = () => take(api.GET('/api/jobs/{job_id}/network/suggestion', { params: { path: { job_id: job.id } } }))
</script>

<template>
  <SaveAs
    v-if="job.of('network').length"
    label="Save the settings as"
    first="Save as…"
    :files="FILES"
    :href="(file) => `/api/jobs/${job.id}/export/${file}`"
  />
  <button
    type="button"
    class="ink-button"
    :disabled="busy"
    @click="suggest(ask, 'Propose networks', 'The usual networks are all there.')"
  >
    Propose networks
  </button>
</template>
