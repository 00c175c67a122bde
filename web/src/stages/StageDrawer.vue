<script setup lang="ts">
/** The drawer: what a stage computes in words, its actions, and its tables over the lower half. */
import { computed, ref, watch, type Component } from 'vue'
import type { Assessment } from '@/job/assessment'
import { useAssessment } from '@/job/useAssessment'
import { useLibrary } from '@/job/useLibrary'
import { useView } from '@/job/useView'
import AirtimePanel from '@/air/AirtimePanel.vue'
import FailuresPanel from '@/air/FailuresPanel.vue'
import PlacingPanel from '@/air/PlacingPanel.vue'
import RadioPlanPanel from '@/air/RadioPlanPanel.vue'
import SurveyPanel from '@/air/SurveyPanel.vue'
import VariantsPanel from '@/air/VariantsPanel.vue'
import WalksPanel from '@/air/WalksPanel.vue'
import BuildUps from '@/stages/BuildUps.vue'
import LinkedTable from '@/stages/LinkedTable.vue'
import StageActions from '@/stages/StageActions.vue'
import { tableOf } from '@/stages/tables'
import { useStages } from '@/stages/useStages'

const library = useLibrary()
const view = useView()
const assessment = useAssessment()
const chosen = ref(0)
const { now: stage } = useStages()
const mine = computed(() => Object.values(library.shelves?.tables ?? {}).filter((table) => table.stages.includes(view.stage)))
const tables = computed(() => (assessment.found ? mine.value.map((table) => tableOf(table, assessment.found as Assessment)) : []))
watch(mine, (shown) => { assessment.first = shown.map((table) => table.rows) }, { immediate: true })
/** What a stage shows beside tables, by the stage and in the order of their tabs. */
const PANELS: Readonly<Record<string, readonly { name: string; component: Component }[]>> = {
  plan: [{ name: 'Build-ups', component: BuildUps }],
  air: [
    { name: 'Placing', component: PlacingPanel }, { name: 'Radio plan', component: RadioPlanPanel }, { name: 'Walks', component: WalksPanel },
    { name: 'Airtime', component: AirtimePanel }, { name: 'Failures', component: FailuresPanel }, { name: 'Survey', component: SurveyPanel }, { name: 'Compare', component: VariantsPanel },
  ],
}
const panels = computed(() => PANELS[view.stage] ?? [])
const panel = computed(() => panels.value[chosen.value - tables.value.length])
const table = computed(() => (panel.value ? undefined : (tables.value[chosen.value] ?? tables.value[0])))
const open = computed(() => view.drawer && (tables.value.length > 0 || panel.value !== undefined))
watch(() => view.panel, (name) => {
  const at = panels.value.findIndex((p) => p.name === name)
  if (at >= 0) chosen.value = tables.value.length + at
  view.panel = null
})
watch(() => view.stage, () => { chosen.value = 0 })
function pick(index: number): void {
  if (view.drawer && chosen.value === index) view.drawer = false
  else {
    chosen.value = index
    view.drawer = true
  }
}
</script>

<template>
  <section class="drawer" :class="{ open }" :aria-label="`${stage?.name ?? ''}: tables and actions`">
    <header>
      <div v-if="tables.length || panels.length" class="tabs" role="group" aria-label="Tables">
        <button v-for="(t, i) in tables" :key="t.name" type="button" class="tab" :aria-expanded="open && table === t" @click="pick(i)">{{ t.name }} <span class="mono quiet">{{ t.rows.length }}</span></button>
        <button v-for="(p, i) in panels" :key="p.name" type="button" class="tab" :aria-expanded="open && panel === p" @click="pick(tables.length + i)">{{ p.name }}</button>
      </div>
      <p v-if="view.stage !== 'air'" class="quiet" :title="stage?.computed">{{ stage?.computed }}</p>
      <StageActions />
    </header>
    <div v-if="open" class="body">
      <component :is="panel.component" v-if="panel" />
      <LinkedTable v-else-if="table" :table="table" />
    </div>
  </section>
</template>

<style scoped>
.drawer { border-top: 1px solid var(--ink); background: var(--paper-raised); display: flex; flex-direction: column; min-height: 0; min-width: 0; }
header { display: flex; align-items: center; justify-content: space-between; gap: 12px; padding: 3px 12px; min-height: 35px; }
.tabs { display: flex; flex-wrap: wrap; gap: 2px; flex: 0 1 auto; min-width: 0; }
.tab { font: inherit; font-size: 0.92rem; color: var(--ink); background: none; border: 0; border-bottom: 2px solid transparent; padding: 3px 8px; cursor: pointer; white-space: nowrap; }
.tab:hover { color: var(--heather); }
.tab[aria-expanded='true'] { border-bottom-color: var(--heather); font-weight: 700; }
p { flex: 1; margin: 0; font-size: 0.86rem; line-height: 1.2; overflow: hidden; display: -webkit-box; -webkit-line-clamp: 2; -webkit-box-orient: vertical; min-width: 0; }
.body { flex: 1; min-height: 0; overflow: auto; border-top: 1px solid var(--rule); }
</style>
