<script setup lang="ts">
/** Two edits of one element at once: both versions are here, the person chooses. */
import { computed } from 'vue'
import { useJob } from '@/job/useJob'
import { useLibrary } from '@/job/useLibrary'
import { valueAt } from '@/margin/fields'

const job = useJob()
const library = useLibrary()
const rows = computed(() => {
  const { mine, theirs } = job.conflict ?? {}
  const kind = mine?.kind ?? theirs?.kind
  if (!kind) return []
  return library
    .about(kind)
    .fields.map((field) => ({
      label: field.label,
      mine: mine ? String(valueAt(mine, field.path) ?? '–') : 'removed',
      theirs: theirs ? String(valueAt(theirs, field.path) ?? '–') : 'removed',
    }))
    .filter((row) => row.mine !== row.theirs)
})
</script>

<template>
  <section v-if="job.conflict" class="conflict" role="alert" aria-label="Changed by somebody else">
    <h2>▲ Changed by somebody else</h2>
    <p>
      {{ job.conflict.mine?.label ?? job.conflict.theirs?.label }} was changed by somebody else while you edited it.
      Nothing is lost; choose one.
    </p>
    <table>
      <thead>
        <tr>
          <th scope="col">What</th>
          <th scope="col">Yours</th>
          <th scope="col">Theirs</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in rows" :key="row.label">
          <th scope="row">{{ row.label }}</th>
          <td class="mono">{{ row.mine }}</td>
          <td class="mono">{{ row.theirs }}</td>
        </tr>
      </tbody>
    </table>
    <div>
      <button type="button" class="ink-button primary" @click="job.settle(true)">Use yours</button>
      <button type="button" class="ink-button" @click="job.settle(false)">Keep theirs</button>
    </div>
  </section>
</template>

<style scoped>
.conflict {
  padding: 12px 14px;
  border-bottom: 1px solid var(--ink);
  border-left: 3px solid var(--rust);
  background: var(--heather-tint);
  font-size: 0.92rem;
}
h2 {
  color: var(--rust);
}
p {
  margin: 4px 0 8px;
}
table {
  width: 100%;
  border-collapse: collapse;
  margin-bottom: 8px;
  font-size: 0.88rem;
}
th {
  text-align: left;
  font-weight: 400;
  color: var(--ink-quiet);
}
</style>
