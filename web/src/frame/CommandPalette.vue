<script setup lang="ts">
/** Find anything or do anything: elements by name, stages, tools, files out. */
import Dialog from 'primevue/dialog'
import { computed, ref, watch } from 'vue'
import { exportsOf } from '@/jobs/files'
import { useJob } from '@/job/useJob'
import { useSelection } from '@/job/useSelection'
import { usePointer } from '@/job/usePointer'
import { useAssessment } from '@/job/useAssessment'
import { useView } from '@/job/useView'
import { useLibrary } from '@/job/useLibrary'
import { useTools } from '@/sheet/tools'
import { BRIEF, PANELS } from '@/stages/panels'
import { usePreferences } from '@/units/preferences'

interface Entry {
  label: string
  hint: string
  run: () => void
}
const visible = defineModel<boolean>('visible', { required: true })
const job = useJob()
const view = useView()
const pointer = usePointer()
const selection = useSelection()
const preferences = usePreferences()
const library = useLibrary()
const assessment = useAssessment()
const { tools } = useTools()
const text = ref('')
const at = ref(0)
const MOST = 12

/** Go to a stage and open a table or panel of it. */
function openTable(stage: string, name: string): void {
  view.stage = stage
  setTimeout(() => {
    view.panel = name
    view.drawer = stage !== 'brief'
  })
}

const entries = computed<Entry[]>(() => [
  ...library.stages.map((stage) => ({
    label: `Stage ${stage.key} ${stage.name}`,
    hint: 'go',
    run: () => {
      view.stage = stage.id
    },
  })),
  ...tools.value.map((tool) => ({
    label: `Tool: ${tool.label}`,
    hint: tool.key?.toUpperCase() ?? '',
    run: () => {
      view.stage = tool.stages.includes(view.stage) ? view.stage : (tool.stages[0] ?? 'plan')
      setTimeout(() => {
        view.tool = tool.name
      })
    },
  })),
  { label: 'Undo', hint: 'Ctrl Z', run: () => void job.undo() },
  { label: 'Redo', hint: 'Ctrl Shift Z', run: () => void job.redo() },
  { label: 'Next finding', hint: '.', run: () => pointer.stepFinding(1) },
  {
    label: 'Switch metric and imperial',
    hint: '',
    run: () => {
      preferences.units = preferences.units === 'metric' ? 'imperial' : 'metric'
    },
  },
  {
    label: 'Switch day and night sheet',
    hint: '',
    run: () => {
      preferences.night = !preferences.night
    },
  },
  ...assessment.open.map((finding) => ({
    label: `${finding.title}: ${finding.subject}`,
    hint: finding.severity,
    run: () => {
      view.stage = finding.stage
      setTimeout(() => pointer.visit(finding))
    },
  })),
  ...(assessment.found?.ports ?? []).map((port) => ({
    label: `${port.switch_label}/${port.port}${port.to_label ? ` to ${port.to_label}` : ''}`,
    hint: 'port',
    run: () => {
      openTable('ports', 'Ports')
      selection.select(port.run_id ?? port.switch_id)
    },
  })),
  ...Object.values(library.shelves?.tables ?? {}).map((table) => ({
    label: `Table: ${table.name}`,
    hint: library.stages.find((s) => s.id === table.stages[0])?.name ?? '',
    run: () => openTable(table.stages[0] ?? view.stage, table.name),
  })),
  ...Object.entries(PANELS).flatMap(([stage, panels]) =>
    panels.map(({ name }) => ({ label: name, hint: 'panel', run: () => openTable(stage, name) })),
  ),
  ...Object.values(BRIEF).map((name) => ({ label: name, hint: 'brief', run: () => openTable('brief', name) })),
  ...exportsOf(job.id).map((file) => ({
    label: `Export ${file.label}`,
    hint: 'file',
    run: () => {
      location.href = file.href
    },
  })),
  ...job.all
    .filter((e) => library.about(e.kind).listed)
    .map((element) => ({
      label: element.label,
      hint: library.about(element.kind).noun,
      run: () => selection.select(element.id),
    })),
])
const found = computed(() => {
  const words = text.value.toLowerCase().split(/\s+/).filter(Boolean)
  return entries.value
    .filter((entry) => words.every((word) => `${entry.label} ${entry.hint}`.toLowerCase().includes(word)))
    .slice(0, MOST)
})
watch([text, visible], () => {
  at.value = 0
})
function move(by: number): void {
  at.value = (at.value + by + found.value.length) % Math.max(found.value.length, 1)
}
function run(entry: Entry | undefined): void {
  if (!entry) return
  visible.value = false
  text.value = ''
  entry.run()
}
</script>

<template>
  <Dialog
    v-model:visible="visible"
    modal
    dismissable-mask
    :draggable="false"
    header="Find or do anything"
    position="top"
    class="palette"
    :style="{ width: '30rem' }"
  >
    <input
      v-model="text"
      class="field wide"
      autofocus
      role="combobox"
      aria-label="Find or do anything"
      aria-controls="found"
      aria-expanded="true"
      :aria-activedescendant="`found-${at}`"
      @keydown.down.prevent="move(1)"
      @keydown.up.prevent="move(-1)"
      @keydown.enter.prevent="run(found[at])"
    />
    <ul id="found" role="listbox" aria-label="Found">
      <li
        v-for="(entry, i) in found"
        :id="`found-${i}`"
        :key="i"
        role="option"
        :aria-selected="i === at"
        @click="run(entry)"
        @mousemove="at = i"
      >
        <span>{{ entry.label }}</span><span class="quiet">{{ entry.hint }}</span>
      </li>
    </ul>
    <p v-if="!found.length" class="quiet">Nothing of that name. Try part of a label, a stage or a tool.</p>
  </Dialog>
</template>

<style scoped>
.wide {
  width: 100%;
  font-size: 1rem;
  padding: 6px 8px;
  margin-top: 4px;
}
ul {
  list-style: none;
  margin: 8px 0 0;
  padding: 0;
}
li {
  display: flex;
  justify-content: space-between;
  gap: 12px;
  padding: 4px 8px;
  cursor: pointer;
}
li[aria-selected='true'] {
  background: var(--heather-tint);
}
</style>
