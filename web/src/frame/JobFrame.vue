<script setup lang="ts">
/** The frame of an open job: bar, spine and section, sheet with its drawer, margin, ledger. */
import { computed, defineAsyncComponent, effectScope, onBeforeUnmount, ref, watch } from 'vue'
import { Refusal, Unreachable } from '@/api/client'
import CommandPalette from '@/frame/CommandPalette.vue'
import KeySheet from '@/frame/KeySheet.vue'
import TopBar from '@/frame/TopBar.vue'
import { useKeys } from '@/frame/useKeys'
import { useAssessment } from '@/job/useAssessment'
import { useEvents } from '@/job/useEvents'
import { useJob } from '@/job/useJob'
import { useLibrary } from '@/job/useLibrary'
import { useView } from '@/job/useView'
import Ledger from '@/ledger/Ledger.vue'
import SumCard from '@/ledger/SumCard.vue'
import ConflictCard from '@/margin/ConflictCard.vue'
import FindingsList from '@/margin/FindingsList.vue'
import SelectionCard from '@/margin/SelectionCard.vue'
import SectionView from '@/section/SectionView.vue'
import ImportCard from '@/margin/ImportCard.vue'
import ManyCard from '@/margin/ManyCard.vue'
import Sheet from '@/sheet/Sheet.vue'
import BriefPage from '@/brief/BriefPage.vue'
import StageDrawer from '@/stages/StageDrawer.vue'
import StageSpine from '@/stages/StageSpine.vue'

const props = defineProps<{ id: string }>()
const job = useJob()
const view = useView()
const assessment = useAssessment()
const library = useLibrary()
const palette = ref(false)
const keys = ref(false)
const failed = ref('')
let listening = effectScope()

async function open(): Promise<void> {
  failed.value = ''
  view.select(null)
  view.pointed = null
  view.openSum = null
  try {
    await library.load()
    await job.open(props.id)
    listening.stop()
    listening = effectScope()
    listening.run(() => useEvents(props.id, (revision) => void job.catchUp(revision)))
    if (!job.of('wall').length && !job.of('underlay').length) view.stage = 'plan'
  } catch (error) {
    if (!(error instanceof Refusal || error instanceof Unreachable)) throw error
    failed.value = error.message
  }
}
watch(() => props.id, open, { immediate: true })
watch(() => view.stage, () => {
  view.tool = 'select'
  view.pointed = null
})
watch(() => job.name, (name) => { document.title = name ? `${name} · Heathrise` : 'Heathrise' })
onBeforeUnmount(() => listening.stop())
useKeys({ palette: () => { palette.value = true }, keys: () => { keys.value = !keys.value } })
const drawerOpen = computed(() => view.drawer && view.stage !== 'brief')
// Loaded when it is first looked at: it brings a renderer with it.
const Look3d = defineAsyncComponent(() => import('@/look/Look3d.vue'))
</script>

<template>
  <div v-if="failed" class="failed" role="alert">
    <h1>This job cannot be opened</h1>
    <p>{{ failed }}</p>
    <p><button type="button" class="ink-button primary" @click="open">Try again</button> <RouterLink class="ink-button" to="/">Job list</RouterLink></p>
  </div>
  <div v-else class="frame" :aria-busy="assessment.busy || !assessment.found || job.working > 0 || (job.waiting.length > 0 && !job.offline)">
    <TopBar @palette="palette = true" @keys="keys = true" />
    <div class="left"><StageSpine /><SectionView /></div>
    <main class="middle" :class="{ open: drawerOpen }">
      <BriefPage v-if="view.stage === 'brief'" />
      <template v-else>
        <Suspense v-if="view.look === '3d'"><Look3d /><template #fallback><p class="wait quiet">Building the look…</p></template></Suspense>
        <Sheet v-else />
        <StageDrawer />
      </template>
      <SumCard />
    </main>
    <aside class="margin" aria-label="Margin">
      <ConflictCard />
      <ImportCard />
      <ManyCard v-if="view.many.size > 1" />
      <SelectionCard v-if="view.element" :key="view.element.id" :element="view.element" />
      <FindingsList />
    </aside>
    <Ledger />
    <CommandPalette v-model:visible="palette" />
    <KeySheet v-model:visible="keys" />
  </div>
</template>

<style scoped>
.frame { height: 100vh; display: grid; grid-template: 46px minmax(0, 1fr) 37px / 164px minmax(0, 1fr) 302px; }
.frame > :first-child { grid-column: 1 / -1; }
.frame > .ledger { grid-column: 1 / -1; }
.left { border-right: 1px solid var(--ink); background: var(--paper-deep); display: flex; flex-direction: column; justify-content: space-between; overflow: auto; min-height: 0; }
.middle { position: relative; display: grid; grid-template-rows: minmax(0, 1fr) auto; min-width: 0; min-height: 0; }
.middle.open { grid-template-rows: minmax(0, 1fr) minmax(0, 46%); }
.wait { padding: 20px; }
.margin { border-left: 1px solid var(--ink); background: var(--paper-raised); overflow: auto; min-height: 0; }
.failed { max-width: 560px; margin: 12vh auto; padding: 0 20px; }
</style>
