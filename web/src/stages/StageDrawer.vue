<script setup lang="ts">
/** The drawer: what a stage computes in words, its actions, and its tables over the lower half. */
import TabPanel from 'primevue/tabpanel'
import TabPanels from 'primevue/tabpanels'
import Tabs from 'primevue/tabs'
import { computed, defineAsyncComponent, ref, watch } from 'vue'
import type { Assessment } from '@/job/assessment'
import { useAssessment } from '@/job/useAssessment'
import { useLibrary } from '@/job/useLibrary'
import { useView } from '@/job/useView'
import InkTabList from '@/ink/InkTabList.vue'
import { tabValue } from '@/ink/tabs'
import DrawerEdge from '@/stages/DrawerEdge.vue'
import StageActions from '@/stages/StageActions.vue'
import { PANELS } from '@/stages/panels'
import { tableReader } from '@/stages/tables'
import { useStages } from '@/stages/useStages'

const library = useLibrary()
const view = useView()
const assessment = useAssessment()
const chosen = ref('')
const read = tableReader()
const { now: stage } = useStages()
const mine = computed(() =>
  Object.values(library.shelves?.tables ?? {}).filter((table) => table.stages.includes(view.stage)),
)
const tables = computed(() =>
  assessment.found ? mine.value.map((table) => read(table, assessment.found as Assessment)) : [],
)
watch(
  mine,
  (shown) => {
    assessment.first = shown.map((table) => table.rows)
  },
  { immediate: true },
)
// Loaded when they are first opened.
const LinkedTable = defineAsyncComponent(() => import('@/stages/LinkedTable.vue'))
const panels = computed(() => PANELS[view.stage] ?? [])
const panel = computed(() => panels.value.find((p) => p.name === chosen.value))
const table = computed(() =>
  panel.value ? undefined : (tables.value.find((t) => t.name === chosen.value) ?? tables.value[0]),
)
const now = computed(() => panel.value?.name ?? table.value?.name)
const open = computed(() => view.drawer && now.value !== undefined)
const tabs = computed(() => [
  ...tables.value.map((t) => ({ name: t.name, count: t.rows.length })),
  ...panels.value.map(({ name }) => ({ name })),
])
watch(
  () => view.panel,
  (name) => {
    if ([...panels.value, ...tables.value].some((p) => p.name === name)) chosen.value = name ?? ''
    view.panel = null
  },
)
watch(
  () => view.stage,
  () => {
    chosen.value = ''
  },
)
/** A press opens a tab; on the open one it puts the drawer away. */
function pick(name: string): void {
  view.drawer = !(view.drawer && now.value === name)
  chosen.value = name
}
</script>

<template>
  <section :aria-label="`${stage?.name ?? ''}: tables and actions`">
    <DrawerEdge v-if="open" />
    <Tabs class="drawer" :class="{ open }" :value="open && now ? tabValue(now) : ''">
      <header>
        <InkTabList v-if="tabs.length" :tabs="tabs" label="Tables" @press="pick" />
        <div v-if="view.stage !== 'air'" class="said">
          <p class="quiet" :title="stage?.computed">{{ stage?.computed }}</p>
        </div>
        <StageActions />
      </header>
      <TabPanels v-if="open" class="body">
        <TabPanel :value="tabValue(now ?? '')">
          <component :is="panel.component" v-if="panel" />
          <LinkedTable v-else-if="table" :table="table" />
        </TabPanel>
      </TabPanels>
    </Tabs>
  </section>
</template>

<style scoped>
section {
  position: relative;
  min-height: 0;
  min-width: 0;
  display: grid;
}
.drawer {
  border-top: 1px solid var(--ink);
  background: var(--paper-raised);
  display: flex;
  flex-direction: column;
  min-height: 0;
  min-width: 0;
}
header {
  display: flex;
  align-items: center;
  justify-content: space-between;
  gap: 12px;
  padding: 3px 12px;
  min-height: 35px;
}
/* Where the tabs leave no room for the sentence it is not begun: see below. */
.said {
  flex: 1;
  min-width: 0;
  container-type: inline-size;
}
p {
  margin: 0;
  font-size: 0.86rem;
  line-height: 1.2;
  overflow: hidden;
  display: -webkit-box;
  -webkit-line-clamp: 2;
  -webkit-box-orient: vertical;
}
@container (width < 11rem) {
  p {
    display: none;
  }
}
.body {
  flex: 1;
  min-height: 0;
  overflow: auto;
  border-top: 1px solid var(--rule);
  padding: 0;
  background: none;
  color: inherit;
}
.body > :deep(*) {
  height: 100%;
}
</style>
