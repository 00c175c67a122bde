<script setup lang="ts">
/** Says when the sheet shows something else than the design as it stands, and the way back. */
import { computed } from 'vue'
import { useJob } from '@/job/useJob'
import { useView } from '@/job/useView'

const job = useJob()
const view = useView()
const name = (id: string): string => job.elements.get(id)?.label ?? ''
const text = computed(() => {
  if (view.failed) return `${name(view.failed)} has failed`
  if (view.compare?.id === 'straight') return 'What goes round adds to straight rays'
  if (view.compare?.how === 'difference') return `${name(view.compare.id)} less the design`
  if (view.compare) return `The design beside ${name(view.compare.id)}`
  return ''
})
function back(): void {
  view.failed = null
  view.compare = null
}
</script>

<template>
  <div v-if="text" class="notice" role="status">
    <span>{{ text }}</span><button type="button" class="ink-button" @click.stop="back">Back to the design</button>
  </div>
</template>

<style scoped>
.notice { position: absolute; top: 10px; left: 50%; transform: translateX(-50%); display: flex; gap: 10px; align-items: center; background: var(--paper-raised); border: 1px solid var(--heather); padding: 3px 10px; font-size: 0.9rem; white-space: nowrap; z-index: 2; }
</style>
