<script setup lang="ts">
/** Why is it so: every setting with its value, who says so (default, practice, need, person) and why. */
import { computed, ref } from 'vue'
import { api, take } from '@/api/client'
import { useAsked } from '@/job/useAsked'
import { useJob } from '@/job/useJob'
import { useSelection } from '@/job/useSelection'

const job = useJob()
const selection = useSelection()
const params = { path: { job_id: job.id } }
const { found, said } = useAsked(() => take(api.GET('/api/jobs/{job_id}/network/told', { params })))
const GROUPS = { network: 'Networks', name: 'Names', radio: 'Radios', port: 'Ports', house: 'House' } as const
const BY = { default: 'default', practice: 'practice', need: 'need', person: 'a person' } as const
const group = ref<keyof typeof GROUPS>('network')
const by = ref('')
const words = ref('')
const rows = computed(() =>
  (found.value?.settings ?? []).filter(
    (one) =>
      one.group === group.value &&
      (!by.value || one.by === by.value) &&
      `${one.subject} ${one.label} ${one.value}`.toLowerCase().includes(words.value.toLowerCase()),
  ),
)
const first = (n: number): boolean => rows.value[n - 1]?.subject !== rows.value[n]?.subject
const known = (id: string): boolean => job.elements.has(id)
</script>

<template>
  <section class="panel" aria-label="Why">
    <p v-if="said" class="fault lead" role="alert">▲ {{ said }}</p>
    <p class="head">
      <span role="group" aria-label="Settings of">
        <button
          v-for="(label, key) in GROUPS"
          :key="key"
          type="button"
          class="ink-button"
          :aria-pressed="group === key"
          @click="group = key"
        >
          {{ label }}
        </button>
      </span>
      <label
        >said by
        <select v-model="by" class="field">
          <option value="">anybody</option>
          <option v-for="(label, key) in BY" :key="key" :value="key">{{ label }}</option>
        </select></label
      >
      <input v-model="words" class="field" placeholder="Find a setting" aria-label="Find a setting" />
      <span class="quiet">{{ rows.length }} settings</span>
    </p>
    <table class="plain-table">
      <thead>
        <tr>
          <th>Of</th>
          <th>Setting</th>
          <th>Value</th>
          <th>Says</th>
          <th>Why</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(one, n) in rows" :key="one.subject + one.field" :class="{ first: first(n) }">
          <th v-if="first(n)" scope="row">
            <button v-if="known(one.subject_id)" type="button" class="bare" @click="selection.select(one.subject_id)">
              {{ one.subject }}</button><template v-else>{{ one.subject }}</template>
          </th>
          <td v-else></td>
          <td>{{ one.label }}</td>
          <td class="mono value">{{ one.value }}</td>
          <td :class="{ person: one.by === 'person' }">{{ BY[one.by] }}</td>
          <td class="because">{{ one.because }}</td>
        </tr>
      </tbody>
    </table>
    <p v-if="found && !rows.length" class="quiet lead">
      {{
        found.settings.length
          ? 'No setting is like that.'
          : 'Propose networks: why each setting is as it is stands here.'
      }}
    </p>
  </section>
</template>

<style scoped>
.panel {
  overflow: auto;
}
.head {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 14px;
  align-items: center;
  margin: 6px 12px;
}
.head span[role='group'] {
  display: flex;
  gap: 4px;
}
.first > * {
  border-top: 1px solid var(--ink-quiet);
}
.plain-table .value {
  max-width: 260px;
  overflow-wrap: anywhere;
  text-align: left;
  white-space: normal;
}
.person {
  color: var(--heather);
  font-weight: 700;
}
.plain-table .because {
  font-size: 0.88rem;
  white-space: normal;
  line-height: 1.3;
}
</style>
