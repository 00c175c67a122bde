<script setup lang="ts">
/** Start and stop of one study, how far it is, and whether the job has changed since. */
import { computed } from 'vue'
import { useStudies, type StudyKind } from '@/air/useStudies'
import { useJob } from '@/job/useJob'

const props = defineProps<{ kind: StudyKind; start: string }>()
const emit = defineEmits<{ begin: [] }>()
const job = useJob()
const studies = useStudies()
const study = computed(() => studies.all.get(props.kind))
const running = computed(() => study.value?.state === 'running')
const old = computed(() => study.value && !running.value && study.value.revision !== job.revision)
</script>

<template>
  <div class="study" :data-kind="kind" :data-state="study?.state ?? 'none'">
    <slot />
    <button v-if="!running" type="button" class="ink-button primary" @click="emit('begin')">
      {{ study ? `${start} again` : start }}
    </button>
    <template v-else-if="study">
      <progress :value="study.share" max="1" :aria-label="`${start}: progress`" />
      <span class="quiet" role="status">{{ study.doing }}</span>
      <button type="button" class="ink-button" @click="studies.stop(study)">Stop</button>
    </template>
    <span v-if="study?.state === 'failed'" class="fault" role="alert">▲ {{ study.doing }}</span>
    <span v-else-if="study?.state === 'stopped'" class="quiet">Stopped; what was found so far is below.</span>
    <span v-if="old" class="quiet">The job has changed since.</span>
    <span v-if="studies.error" class="fault" role="alert">▲ {{ studies.error }}</span>
  </div>
</template>

<style scoped>
.study {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
  padding: 6px 12px;
  font-size: 0.92rem;
}
progress {
  accent-color: var(--heather);
  width: 140px;
}
</style>
