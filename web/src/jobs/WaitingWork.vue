<script setup lang="ts">
/** Work of closed windows that is not saved yet: whose it is, why it waits, and the way to it. */
import { useOutbox } from '@/job/useOutbox'

const outbox = useOutbox()
</script>

<template>
  <section v-if="outbox.left.length" class="waiting" aria-labelledby="waiting">
    <h2 id="waiting">Not saved yet</h2>
    <ul>
      <li v-for="one in outbox.left" :key="one.jobId">
        <b>{{ one.jobName }}</b>
        <span class="mono">{{ one.edits.length }} {{ one.edits.length === 1 ? 'edit' : 'edits' }}</span>
        <span class="why">{{ one.why }}</span>
        <button v-if="one.gone" type="button" class="ink-button" @click="outbox.letGo(one.jobId)">Let them go</button>
        <RouterLink v-else class="ink-button" :to="`/jobs/${one.jobId}`">Open the job</RouterLink>
      </li>
    </ul>
  </section>
</template>

<style scoped>
.waiting {
  border-left: 3px solid var(--rust);
  padding: 2px 0 2px 12px;
}
h2 {
  color: var(--rust);
}
ul {
  list-style: none;
  margin: 4px 0 0;
  padding: 0;
}
li {
  display: grid;
  grid-template-columns: auto auto minmax(0, 1fr) auto;
  gap: 12px;
  align-items: baseline;
  padding: 3px 0;
}
</style>
