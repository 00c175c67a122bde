<script setup lang="ts">
/** The field page: a job named in the address, or those this device took along. */
import { useEventListener } from '@vueuse/core'
import { computed, ref, watchEffect } from 'vue'
import FieldJob from '@/field/FieldJob.vue'
import FieldJobs from '@/field/FieldJobs.vue'
import { usePreferences } from '@/units/preferences'

const preferences = usePreferences()
watchEffect(() => document.documentElement.classList.toggle('night', preferences.night))
const address = ref(location.pathname)
useEventListener('popstate', () => {
  address.value = location.pathname
})
const jobId = computed(() => /^\/field\/([0-9a-f-]{36})/.exec(address.value)?.[1] ?? null)
</script>

<template>
  <FieldJob v-if="jobId" :key="jobId" :job-id="jobId" />
  <FieldJobs v-else />
</template>
