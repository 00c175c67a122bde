<script setup lang="ts">
/** One edition: its files, and what is otherwise since. */
import { computed, shallowRef } from 'vue'
import { api, take } from '@/api/client'
import type { Differences, Drift, EditionShown } from '@/api/schema'
import { useGuarded } from '@/api/useGuarded'
import { useJob } from '@/job/useJob'

const props = defineProps<{ edition: EditionShown }>()
const job = useJob()
const { said, busy, guarded } = useGuarded()
const drift = shallowRef<Drift | null>(null)
const live = shallowRef<Differences | null>(null)
const base = computed(() => `/api/jobs/${job.id}/hand-overs/${props.edition.id}`)
const params = computed(() => ({ path: { job_id: job.id, edition_id: props.edition.id } }))
const times = new Intl.DateTimeFormat(undefined, { dateStyle: 'medium', timeStyle: 'short' })
async function since(): Promise<void> {
  const call = { params: params.value }
  drift.value = (await guarded(() => take(api.GET('/api/jobs/{job_id}/hand-overs/{edition_id}/drift', call)))) ?? null
}
async function askController(): Promise<void> {
  const call = { params: params.value }
  live.value = (await guarded(() => take(api.GET('/api/jobs/{job_id}/hand-overs/{edition_id}/live', call)))) ?? null
}
const size = (bytes: number): string => `${(bytes / 1e6).toFixed(bytes < 1e5 ? 2 : 1)} MB`
</script>

<template>
  <article>
    <p class="line">
      <strong>Edition {{ edition.number }}</strong>
      <span class="quiet"
        >{{ edition.signed ? times.format(new Date(edition.signed)) : '' }}, {{ edition.signing.signed_by }} to
        {{ edition.signing.client }}, revision {{ edition.revision }}</span
      >
    </p>
    <p class="line">
      <a class="ink-button primary" :href="`${base}/files/set.pdf`" download>The set (PDF)</a>
      <a class="ink-button" :href="`${base}/set.zip`" download>All files (ZIP)</a>
      <button type="button" class="ink-button" :disabled="busy" @click="since">What is otherwise since</button>
      <button type="button" class="ink-button" :disabled="busy" @click="askController">
        Is the controller as handed over
      </button>
    </p>
    <p v-if="said" class="fault" role="alert">▲ {{ said }}</p>
    <details>
      <summary>{{ edition.files.length }} files</summary>
      <ul>
        <li v-for="file in edition.files" :key="file.name">
          <a :href="`${base}/files/${file.name}`" download>{{ file.name }}</a>
          <span class="mono quiet">{{ size(file.size) }}</span>
        </li>
      </ul>
    </details>
    <template v-if="drift">
      <p v-if="!drift.lines.length" class="holds">✓ The job is as it was handed over.</p>
      <ul v-else aria-label="Otherwise since">
        <li v-for="one in drift.lines" :key="one.element_id">
          <strong>{{ one.noun }} {{ one.label }}</strong>
          {{
            one.change === 'changed'
              ? one.fields.map((f) => `${f.field} ${f.before || '–'} → ${f.after || '–'}`).join('; ')
              : one.change
          }}
        </li>
      </ul>
    </template>
    <template v-if="live">
      <p v-if="live.as_planned" class="holds">✓ The controller is as it was handed over.</p>
      <ul v-else aria-label="Otherwise in the controller">
        <li v-for="one in live.differences" :key="one.key">
          <strong>{{ one.item }}</strong> {{ one.state
          }}<template v-if="one.fields.length"
            >: {{ one.fields.map((f) => `${f.label} ${f.planned || '–'} → ${f.found || '–'}`).join('; ') }}</template
          >
        </li>
      </ul>
    </template>
  </article>
</template>

<style scoped>
article {
  border-top: 1px solid var(--rule);
  padding: 3px 0 6px;
}
.line {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 10px;
  align-items: center;
  margin: 3px 0;
}
ul {
  list-style: none;
  margin: 2px 0;
  padding: 0 0 0 10px;
  font-size: 0.9rem;
}
summary {
  cursor: pointer;
  min-height: 24px;
}
</style>
