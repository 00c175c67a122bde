<script setup lang="ts">
/** The jobs this device took along. */
import { shallowRef } from 'vue'
import { packs, type Pack } from '@/site/store'

const found = shallowRef<readonly Pack[]>([])
const looked = shallowRef(false)
void packs()
  .then((all) => {
    found.value = all
  })
  .finally(() => {
    looked.value = true
  })
const times = new Intl.DateTimeFormat(undefined, { dateStyle: 'medium', timeStyle: 'short' })
</script>

<template>
  <main>
    <h1>On site</h1>
    <p v-if="looked && !found.length">
      This device has taken no job along yet. Open a job where there is a signal, stage 9,
      <strong>Take it along</strong>; or hold the camera over the code of a label.
    </p>
    <a v-for="one in found" :key="one.jobId" class="big" :href="`/field/${one.jobId}`">
      <span
        ><strong>{{ one.taken.pack.name }}</strong
        ><br /><small class="quiet">taken along {{ times.format(new Date(one.at)) }}</small></span
      >
    </a>
    <p><a href="/">The job list</a> <span class="quiet">(needs a signal)</span></p>
  </main>
</template>

<style scoped>
main {
  max-width: 560px;
  margin: 0 auto;
  padding: 16px;
  display: grid;
  gap: 12px;
}
</style>
