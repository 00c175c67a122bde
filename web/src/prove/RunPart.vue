<script setup lang="ts">
/** One run opened: what is wrong and what to do, its tests, the curves of one, and a test typed by hand. */
import { computed, ref, watch } from 'vue'
import { api, take } from '@/api/client'
import type { RunProof, RunTests } from '@/api/schema'
import { useGuarded } from '@/api/useGuarded'
import { useJob } from '@/job/useJob'
import CurvesPart from '@/prove/CurvesPart.vue'
import StateMark from '@/prove/StateMark.vue'
import TypeTestPart from '@/prove/TypeTestPart.vue'

const props = defineProps<{ run: RunProof }>()
const job = useJob()
const { said, guarded } = useGuarded()
const found = ref<RunTests | null>(null)
const record = ref<string | null>(null)
async function look(): Promise<void> {
  const params = {
    path: { job_id: job.id, run_id: props.run.run_id },
    query: record.value ? { record: record.value } : {},
  }
  const answer = await guarded(() => take(api.GET('/api/jobs/{job_id}/prove/runs/{run_id}', { params })))
  if (answer) found.value = answer
}
watch(
  () => [props.run, record.value] as const,
  () => void look(),
  { immediate: true },
)
const times = new Intl.DateTimeFormat(undefined, { dateStyle: 'medium', timeStyle: 'short' })
const tests = computed(() => found.value?.tests ?? [])
</script>

<template>
  <div class="part">
    <p v-if="said" class="fault" role="alert">▲ {{ said }}</p>
    <p v-if="run.fault" class="fault-words">
      <strong class="fault">▲ {{ run.fault.name }}.</strong> {{ run.fault.text }} {{ run.fault.advice }}
    </p>
    <div class="beside">
      <div>
        <table v-if="tests.length" class="plain-table">
          <caption class="visually-hidden">
            Tests of
            {{
              run.label
            }}
          </caption>
          <tbody>
            <tr v-for="one in tests" :key="one.record_id" :class="{ chosen: found?.shown === one.record_id }">
              <th scope="row">
                <button type="button" class="bare label" @click="record = one.record_id">
                  {{ times.format(new Date(one.said_at)) }}
                </button>
              </th>
              <td>{{ one.by }}</td>
              <td class="quiet">
                {{ one.configuration }}<template v-if="one.test_class">, {{ one.test_class }}</template>
              </td>
              <td><StateMark :state="one.verdict" /></td>
            </tr>
          </tbody>
        </table>
        <p v-else class="quiet">
          No test of {{ run.label }} is on record. Read the tester's file, or type what it said:
        </p>
        <details :open="!tests.length">
          <summary>Type a test</summary>
          <TypeTestPart :run="run" />
        </details>
      </div>
      <CurvesPart v-if="found?.curves.length" :curves="found.curves" :label="run.label" />
    </div>
  </div>
</template>

<style scoped>
.part {
  border-left: 3px solid var(--heather);
  padding: 2px 0 4px 10px;
}
.beside {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 14px;
  align-items: flex-start;
}
.beside > div {
  flex: 0 1 24rem;
}
.plain-table td,
.plain-table th {
  padding: 3px 6px;
}
summary {
  cursor: pointer;
  min-height: 26px;
}
p {
  margin: 4px 0;
}
.label {
  text-decoration: underline dotted;
  min-height: 24px;
}
.chosen {
  background: var(--heather-tint);
}
</style>
