<script setup lang="ts">
/** The run book: what is done before, on the bench, on site and after, and why in that order. */
import { computed } from 'vue'
import { api, take } from '@/api/client'
import { useAsked } from '@/job/useAsked'
import { useJob } from '@/job/useJob'

const job = useJob()
const params = { path: { job_id: job.id } }
const { found, said } = useAsked(() => take(api.GET('/api/jobs/{job_id}/network/run-book', { params })))
const WHERE = { before: 'Before', bench: 'On the bench', site: 'On site', after: 'After' } as const
const steps = computed(() => (found.value?.steps ?? []).map((step, n) => ({ ...step, number: n + 1 })))
const parts = computed(() =>
  (Object.keys(WHERE) as (keyof typeof WHERE)[])
    .map((where) => ({ where, steps: steps.value.filter((step) => step.where === where) }))
    .filter((part) => part.steps.length),
)
</script>

<template>
  <section class="panel" aria-label="Run book">
    <p v-if="said" class="fault lead" role="alert">▲ {{ said }}</p>
    <div class="parts">
      <section v-for="part in parts" :key="part.where">
        <h3>{{ WHERE[part.where] }}</h3>
        <ol>
          <li v-for="step in part.steps" :key="step.code" :value="step.number">
            {{ step.text }} <span class="quiet">{{ step.why }}</span>
          </li>
        </ol>
      </section>
    </div>
  </section>
</template>

<style scoped>
.panel {
  overflow: auto;
}
.parts {
  columns: 2 420px;
  column-gap: 34px;
  padding: 4px 12px 12px;
}
.parts section {
  break-inside: avoid-column;
}
h3 {
  margin: 6px 0 2px;
  font-size: 0.95rem;
}
ol {
  margin: 0;
  padding-left: 26px;
  font-size: 0.92rem;
  line-height: 1.35;
}
li {
  margin-bottom: 4px;
}
li::marker {
  font-family: var(--mono, monospace);
}
</style>
