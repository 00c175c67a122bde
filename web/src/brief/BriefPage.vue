<script setup lang="ts">
/** Stage 1 on the whole middle: facts, spaces and hours, devices, questions, drops, house practice. */
import { computed, onMounted, ref } from 'vue'
import DevicesTab from '@/brief/DevicesTab.vue'
import DropsTab from '@/brief/DropsTab.vue'
import FactsTab from '@/brief/FactsTab.vue'
import PracticeTab from '@/brief/PracticeTab.vue'
import QuestionsTab from '@/brief/QuestionsTab.vue'
import SpacesTab from '@/brief/SpacesTab.vue'
import { useAssessment } from '@/job/useAssessment'
import { useJob } from '@/job/useJob'
import { useLibrary } from '@/job/useLibrary'

const job = useJob()
const assessment = useAssessment()
const library = useLibrary()
const chosen = ref('Facts')
const open = computed(() => assessment.found?.questions.filter((q) => q.answer === null).length ?? 0)
const drops = computed(() => assessment.found?.drops.filter((d) => d.wanted === null).length ?? 0)
const tabs = computed(() => [
  { name: 'Facts', part: FactsTab, count: 0 },
  { name: 'Spaces and hours', part: SpacesTab, count: job.of('space').length },
  { name: 'Devices', part: DevicesTab, count: job.of('brief')[0]?.devices.length ?? 0 },
  { name: 'Questions', part: QuestionsTab, count: open.value },
  { name: 'Forgotten drops', part: DropsTab, count: drops.value },
  { name: 'House practice', part: PracticeTab, count: 0 },
])
const tab = computed(() => tabs.value.find((t) => t.name === chosen.value) ?? tabs.value[0])
onMounted(() => void library.load())
</script>

<template>
  <section class="brief" aria-label="The whole brief">
    <div class="tabs" role="group" aria-label="Parts of the brief">
      <button v-for="t in tabs" :key="t.name" type="button" class="tab" :aria-pressed="t === tab" @click="chosen = t.name">{{ t.name }} <span v-if="t.count" class="mono quiet">{{ t.count }}</span></button>
    </div>
    <div class="body" tabindex="0" :aria-label="tab?.name"><component :is="tab.part" v-if="tab" /></div>
  </section>
</template>

<style scoped>
.brief { display: grid; grid-template-rows: auto minmax(0, 1fr); min-height: 0; grid-row: 1 / -1; background: var(--paper); }
.tabs { display: flex; gap: 2px; padding: 6px 14px 0; border-bottom: 1px solid var(--ink); background: var(--paper-deep); }
.tab { font: inherit; color: var(--ink); background: none; border: 0; border-bottom: 3px solid transparent; padding: 5px 9px; cursor: pointer; white-space: nowrap; }
.tab:hover { color: var(--heather); }
.tab[aria-pressed='true'] { border-bottom-color: var(--heather); font-weight: 700; }
.body { overflow: auto; padding: 14px 18px 24px; }
</style>
