<script setup lang="ts">
/** Who writes down, and whether all of it has gone out. */
import { computed } from 'vue'
import { useJob } from '@/job/useJob'
import { useProven } from '@/prove/useProven'

const job = useJob()
const { records } = useProven()
const names = computed(() => job.of('fitting')[0]?.crew ?? [])
const state = computed(() => (records.waiting.length ? `${records.waiting.length} waiting to be sent` : ''))
</script>

<template>
  <span class="sign">
    <label
      >Written down by
      <input v-model.trim="records.me" class="field" maxlength="80" list="crew" placeholder="your name" />
      <datalist id="crew"><option v-for="one in names" :key="one" :value="one" /></datalist>
    </label>
    <span v-if="state" class="quiet" role="status">{{ state }}</span>
    <span v-if="records.said" class="fault" role="alert">▲ {{ records.said }}</span>
  </span>
</template>

<style scoped>
.sign {
  display: inline-flex;
  gap: 10px;
  align-items: center;
  white-space: nowrap;
}
.field {
  width: 8rem;
}
</style>
