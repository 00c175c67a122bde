<script setup lang="ts">
/** Says when the sheet shows something else than the design as it stands, and the way back. */
import { computed } from 'vue'
import { useJob } from '@/job/useJob'
import { useAirView } from '@/air/useAirView'

const job = useJob()
const airView = useAirView()
const name = (id: string): string => job.elements.get(id)?.label ?? ''
const text = computed(() => {
  if (airView.failed) return `${name(airView.failed)} has failed`
  if (airView.compare?.id === 'straight') return 'What goes round adds to straight rays'
  if (airView.compare?.how === 'difference') return `${name(airView.compare.id)} less the design`
  if (airView.compare) return `The design beside ${name(airView.compare.id)}`
  return ''
})
function back(): void {
  airView.failed = null
  airView.compare = null
}
</script>

<template>
  <div v-if="text" class="notice" role="status">
    <span>{{ text }}</span><button type="button" class="ink-button" @click.stop="back">Back to the design</button>
  </div>
</template>

<style scoped>
.notice {
  position: absolute;
  top: 10px;
  left: 50%;
  transform: translateX(-50%);
  display: flex;
  gap: 10px;
  align-items: center;
  background: var(--paper-raised);
  border: 1px solid var(--heather);
  padding: 3px 10px;
  font-size: 0.9rem;
  white-space: nowrap;
  z-index: 2;
}
</style>
