<script setup lang="ts">
/** Network: the usual networks, clear of the service's own subnet. */
import { api, take } from '@/api/client'
import { useJob } from '@/job/useJob'
import { useSuggestion } from '@/stages/actions/useSuggestion'

const job = useJob()
const { busy, suggest } = useSuggestion()
const ask = () => take(api.GET('/api/jobs/{job_id}/network/suggestion', { params: { path: { job_id: job.id } } }))
</script>

<template>
  <button
    type="button"
    class="ink-button"
    :disabled="busy"
    @click="suggest(ask, 'Propose networks', 'The usual networks are all there.')"
  >
    Propose networks
  </button>
</template>
