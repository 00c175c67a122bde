<script setup lang="ts">
/** Order: kit list, settings and the whole job as files. */
import { computed } from 'vue'
import { useJob } from '@/job/useJob'
import { exportsOf } from '@/jobs/files'

const job = useJob()
const files = computed(() => exportsOf(job.id))
</script>

<template>
  <a v-for="file in files" :key="file.href" class="ink-button" :href="file.href">{{ file.label }}</a>
</template>
