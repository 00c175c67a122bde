<script setup lang="ts">
/** Edits the server does not keep: off the sheet, not lost, with the reason, until the person decides. */
import { useJob } from '@/job/useJob'

const job = useJob()
</script>

<template>
  <section v-if="job.aside.length" class="aside" aria-label="Not saved">
    <h2>▲ Not saved</h2>
    <ul>
      <li v-for="edit in job.aside" :key="edit.editId">
        <b>{{ edit.label }}</b>
        <p>{{ edit.refused }}</p>
        <div>
          <button type="button" class="ink-button" @click="job.tryAgain(edit.editId)">Try again</button>
          <button type="button" class="ink-button" @click="job.letGo(edit.editId)">Let it go</button>
        </div>
      </li>
    </ul>
  </section>
</template>

<style scoped>
.aside {
  padding: 10px 14px;
  border-bottom: 1px solid var(--ink);
  border-left: 3px solid var(--rust);
  font-size: 0.92rem;
}
h2 {
  color: var(--rust);
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  padding: 5px 0;
}
li + li {
  border-top: 1px solid var(--rule);
}
p {
  margin: 2px 0 6px;
  overflow-wrap: anywhere;
}
div {
  display: flex;
  gap: 6px;
}
</style>
