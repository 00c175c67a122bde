<script setup lang="ts">
/** Stage 1 on the whole middle: facts, spaces and hours, devices, questions, drops, house practice. */
import TabPanel from 'primevue/tabpanel'
import TabPanels from 'primevue/tabpanels'
import Tabs from 'primevue/tabs'
import { computed, onMounted, ref, watch } from 'vue'
import InkTabList from '@/ink/InkTabList.vue'
import { tabValue } from '@/ink/tabs'
import DevicesTab from '@/brief/DevicesTab.vue'
import DropsTab from '@/brief/DropsTab.vue'
import FactsTab from '@/brief/FactsTab.vue'
import PracticeTab from '@/brief/PracticeTab.vue'
import QuestionsTab from '@/brief/QuestionsTab.vue'
import SpacesTab from '@/brief/SpacesTab.vue'
import { useAssessment } from '@/job/useAssessment'
import { useJob } from '@/job/useJob'
import { useLibrary } from '@/job/useLibrary'
import { useView } from '@/job/useView'
import { BRIEF } from '@/stages/panels'

const job = useJob()
const assessment = useAssessment()
const library = useLibrary()
const view = useView()
const chosen = ref<string>(BRIEF.facts)
const open = computed(() => assessment.found?.questions.filter((q) => q.answer === null).length ?? 0)
const drops = computed(() => assessment.found?.drops.filter((d) => d.wanted === null).length ?? 0)
const tabs = computed(() => [
  { name: BRIEF.facts, part: FactsTab },
  { name: BRIEF.spaces, part: SpacesTab, count: job.of('space').length },
  { name: BRIEF.devices, part: DevicesTab, count: job.of('brief')[0]?.devices.length || undefined },
  { name: BRIEF.questions, part: QuestionsTab, count: open.value || undefined },
  { name: BRIEF.drops, part: DropsTab, count: drops.value || undefined },
  { name: BRIEF.practice, part: PracticeTab },
])
const tab = computed(() => tabs.value.find((t) => t.name === chosen.value) ?? tabs.value[0])
onMounted(() => void library.load())
watch(
  () => view.panel,
  (name) => {
    if (tabs.value.some((t) => t.name === name)) chosen.value = name ?? ''
    view.panel = null
  },
  { immediate: true },
)
</script>

<template>
  <section aria-label="The whole brief">
    <Tabs :value="tabValue(chosen)" class="brief">
      <InkTabList :tabs="tabs" label="Parts of the brief" @press="chosen = $event" />
      <TabPanels class="body" tabindex="0"
        ><TabPanel v-if="tab" :value="tabValue(tab.name)"><component :is="tab.part" /></TabPanel
      ></TabPanels>
    </Tabs>
  </section>
</template>

<style scoped>
section {
  min-height: 0;
  grid-row: 1 / -1;
  display: grid;
}
.brief {
  display: grid;
  grid-template-rows: auto minmax(0, 1fr);
  min-height: 0;
  background: var(--paper);
}
.brief > :first-child {
  padding: 6px 14px 0;
  border-bottom: 1px solid var(--ink);
  background: var(--paper-deep);
}
.body {
  overflow: auto;
  padding: 14px 18px 24px;
  background: none;
  color: inherit;
}
</style>
