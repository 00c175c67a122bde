<script setup lang="ts">
/** The frame of an open job: bar, spine and section, sheet with its drawer, margin, ledger. */
import Toast from 'primevue/toast'
import { useToast } from 'primevue/usetoast'
import { useEventListener } from '@vueuse/core'
import { useRoute } from 'vue-router'
import { computed, defineAsyncComponent, effectScope, onBeforeUnmount, ref, watch } from 'vue'
import { useGuarded } from '@/api/useGuarded'
import TopBar from '@/frame/TopBar.vue'
import { useKeys } from '@/frame/useKeys'
import { useAssessment } from '@/job/useAssessment'
import { useEvents } from '@/job/useEvents'
import { useJob } from '@/job/useJob'
import { useImport } from '@/job/useImport'
import { useLibrary } from '@/job/useLibrary'
import { useSelection } from '@/job/useSelection'
import { usePointer } from '@/job/usePointer'
import { useView } from '@/job/useView'
import Ledger from '@/ledger/Ledger.vue'
import SumCard from '@/ledger/SumCard.vue'
import AsideCard from '@/margin/AsideCard.vue'
import ConflictCard from '@/margin/ConflictCard.vue'
import GoneCard from '@/margin/GoneCard.vue'
import FindingsList from '@/margin/FindingsList.vue'
import NextLine from '@/margin/NextLine.vue'
import SelectionCard from '@/margin/SelectionCard.vue'
import SectionView from '@/section/SectionView.vue'
import ImportCard from '@/margin/ImportCard.vue'
import ManyCard from '@/margin/ManyCard.vue'
import Sheet from '@/sheet/Sheet.vue'
import StageDrawer from '@/stages/StageDrawer.vue'
import StageSpine from '@/stages/StageSpine.vue'

const props = defineProps<{ id: string }>()
const job = useJob()
const view = useView()
const pointer = usePointer()
const selection = useSelection()
const assessment = useAssessment()
const library = useLibrary()
const importing = useImport()
const palette = ref(false)
const keys = ref(false)
const { said: failed, guarded } = useGuarded()
const NOTICE_MS = 12_000
let listening = effectScope()
const route = useRoute()

/** What the code of a label names is selected, in the stage of the crew. */
function openAt(): void {
  const { at } = route.query
  if (typeof at !== 'string' || !job.elements.has(at)) return
  view.stage = 'fit'
  selection.select(at)
}
async function open(): Promise<void> {
  selection.select(null)
  pointer.pointed = null
  view.openSum = null
  await guarded(async () => {
    await library.load()
    await job.open(props.id)
    listening.stop()
    listening = effectScope()
    listening.run(() => useEvents(props.id, job.announced, job.doubted))
    if (!job.of('wall').length && !job.of('underlay').length) view.stage = 'plan'
    openAt()
    const dropped = importing.waiting
    if (dropped?.jobId !== props.id) return
    importing.waiting = null
    void importing.send(dropped.file)
  })
}
watch(() => props.id, open, { immediate: true })
watch(
  () => view.stage,
  () => {
    view.tool = 'select'
    pointer.pointed = null
  },
)
const toast = useToast()
// What was done as well as what was not: the sentence says which.
watch(
  () => job.refusal,
  (detail) => {
    if (detail) toast.add({ severity: 'secondary', summary: detail, life: NOTICE_MS })
  },
)
watch(
  () => job.name,
  (name) => {
    document.title = name ? `${name} · Heathrise` : 'Heathrise'
  },
)
useEventListener('online', () => void job.flush())
onBeforeUnmount(() => {
  listening.stop()
  job.close()
})
useKeys({
  palette: () => {
    palette.value = true
  },
  keys: () => {
    keys.value = !keys.value
  },
})
/** What waits waits for the server or for the person, not for a moment. */
const held = computed(() => job.offline || job.conflict !== null || job.gone !== null)
const drawerHeight = computed(() => `${Math.round(100 * view.drawerShare)}%`)
const drawerOpen = computed(() => view.drawer && view.stage !== 'brief')
// Loaded when they are first looked at: they bring dialogs, charts and a renderer with them.
const BriefPage = defineAsyncComponent(() => import('@/brief/BriefPage.vue'))
const CommandPalette = defineAsyncComponent(() => import('@/frame/CommandPalette.vue'))
const KeySheet = defineAsyncComponent(() => import('@/frame/KeySheet.vue'))
const Look3d = defineAsyncComponent(() => import('@/look/Look3d.vue'))
</script>

<template>
  <div v-if="failed" class="failed" role="alert">
    <h1>This job cannot be opened</h1>
    <p>{{ failed }}</p>
    <p>
      <button type="button" class="ink-button primary" @click="open">Try again</button>
      <RouterLink class="ink-button" to="/">Job list</RouterLink>
    </p>
  </div>
  <div
    v-else
    class="frame"
    :aria-busy="assessment.busy || !assessment.found || job.working > 0 || (job.waiting.length > 0 && !held)"
  >
    <TopBar @palette="palette = true" @keys="keys = true" />
    <div class="left"><StageSpine /><SectionView /></div>
    <main class="middle" :class="{ open: drawerOpen }">
      <BriefPage v-if="view.stage === 'brief'" />
      <template v-else>
        <Suspense v-if="view.look === '3d'"
          ><Look3d /><template #fallback><p class="wait quiet">Building the look…</p></template></Suspense
        >
        <Sheet v-else />
        <StageDrawer />
      </template>
      <SumCard />
    </main>
    <aside class="margin" aria-label="Margin">
      <NextLine />
      <div class="notes">
        <GoneCard />
        <ConflictCard />
        <AsideCard />
        <ImportCard />
        <ManyCard v-if="selection.many.size > 1" />
        <SelectionCard v-if="selection.element" :key="selection.element.id" :element="selection.element" />
        <FindingsList />
      </div>
    </aside>
    <Ledger />
    <Toast position="top-center" />
    <CommandPalette v-if="palette" v-model:visible="palette" />
    <KeySheet v-if="keys" v-model:visible="keys" />
  </div>
</template>

<style scoped>
.frame {
  height: 100vh;
  display: grid;
  grid-template: 46px minmax(0, 1fr) 37px / 164px minmax(0, 1fr) 302px;
}
.frame > :first-child {
  grid-column: 1 / -1;
}
.frame > .ledger {
  grid-column: 1 / -1;
}
.left {
  border-right: 1px solid var(--ink);
  background: var(--paper-deep);
  display: flex;
  flex-direction: column;
  justify-content: space-between;
  overflow: auto;
  min-height: 0;
}
.middle {
  position: relative;
  display: grid;
  grid-template-rows: minmax(0, 1fr) auto;
  min-width: 0;
  min-height: 0;
}
.middle.open {
  grid-template-rows: minmax(120px, 1fr) minmax(0, v-bind(drawerHeight));
}
.wait {
  padding: 20px;
}
.margin {
  border-left: 1px solid var(--ink);
  background: var(--paper-raised);
  display: flex;
  flex-direction: column;
  min-height: 0;
}
.notes {
  flex: 1;
  overflow: auto;
  min-height: 0;
}
.failed {
  max-width: 560px;
  margin: 12vh auto;
  padding: 0 20px;
}
</style>
