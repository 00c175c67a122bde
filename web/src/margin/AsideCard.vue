<script setup lang="ts">
/** Edits the server does not keep: off the sheet, not lost, with the reason, until the person decides. */
import { useJob } from '@/job/useJob'

const job = useJob()
</script>

<template>
  <section v-if="job.aside.length" class="trouble" aria-label="Not saved">
    <h2>▲ Not saved</h2>
    <ul>
      <li v-for="edit in job.aside" :key="edit.editId">
        <b>{{ edit.label }}</b>
        <p>{{ edit.refused }}</p>
        <div class="do">
          <button type="button" class="ink-button" @click="job.tryAgain(edit.editId)">Try again</button>
          <button type="button" class="ink-button" @click="job.letGo(edit.editId)">Let it go</button>
        </div>
      </li>
    </ul>
  </section>
</template>

<style scoped>
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
</style>
