<script setup lang="ts">
/** Runs: cables to everything that has too few. */
import { api, take } from '@/api/client'
import { useJob } from '@/job/useJob'
import { useSuggestion } from '@/stages/actions/useSuggestion'

const job = useJob()
const { busy, suggest } = useSuggestion()
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
</template>
