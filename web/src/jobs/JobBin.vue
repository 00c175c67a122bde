<script setup lang="ts">
/** What lies in the bin: put back as it was, or forgotten for good. */
import { ref } from 'vue'
import type { JobListed } from '@/api/schema'
import { useGuarded } from '@/api/useGuarded'
import { forget, putBack } from '@/jobs/rescue'
import { day, when } from '@/jobs/when'

defineProps<{ jobs: readonly JobListed[] }>()
const emit = defineEmits<{ changed: [] }>()
const { said, guarded } = useGuarded()
/** Forgetting cannot be undone, so it is asked twice. */
const sure = ref('')

async function settled(work: () => Promise<void>): Promise<void> {
  await guarded(work)
  sure.value = ''
  emit('changed')
}
</script>

<template>
  <section v-if="jobs.length" aria-labelledby="bin">
    <h2 id="bin">Bin</h2>
    <p class="quiet">A job stays here with all that was done in it until its day; then it is forgotten.</p>
    <p v-if="said" class="said" role="alert">▲ {{ said }}</p>
    <table>
      <tbody>
        <tr v-for="job in jobs" :key="job.id">
          <th scope="row">{{ job.name }}</th>
          <td class="quiet">put here {{ when(job.binned ?? job.changed) }}</td>
          <td class="quiet">kept until {{ job.until ? day(job.until) : '' }}</td>
          <td class="do">
            <button
              type="button"
              class="ink-button"
              :aria-label="`Put back ${job.name}`"
              @click="settled(() => putBack(job.id))"
            >
              Put back
            </button>
            <button
              v-if="sure !== job.id"
              type="button"
              class="ink-button"
              :aria-label="`Forget ${job.name}`"
              @click="sure = job.id"
            >
              Forget…
            </button>
            <button v-else type="button" class="ink-button danger" @click="settled(() => forget(job.id))">
              Forget for good
            </button>
          </td>
        </tr>
      </tbody>
    </table>
  </section>
</template>

<style scoped>
h2 {
  border-bottom: 1px solid var(--ink);
  padding-bottom: 3px;
  margin-bottom: 4px;
}
p {
  margin: 0 0 6px;
  font-size: 0.92rem;
}
table {
  width: 100%;
  border-collapse: collapse;
}
th {
  text-align: left;
  font-weight: 400;
}
th,
td {
  padding: 4px 12px 4px 0;
  border-bottom: 1px solid var(--rule);
}
.do {
  text-align: right;
  white-space: nowrap;
  padding-right: 0;
}
.do button + button {
  margin-left: 6px;
}
.danger,
.said {
  color: var(--rust);
}
</style>
