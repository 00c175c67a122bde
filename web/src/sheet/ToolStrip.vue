<script setup lang="ts">
/** The tools of this stage, the one in hand with what it needs, and what it last said. */
import { computed } from 'vue'
import { useGuarded } from '@/api/useGuarded'
import Glyph from '@/ink/Glyph.vue'
import { useMake } from '@/job/make'
import { useJob } from '@/job/useJob'
import { useSelection } from '@/job/useSelection'
import { useLibrary } from '@/job/useLibrary'
import { useView } from '@/job/useView'
import { useTools, type Tool } from '@/sheet/tools'
import { uploadDrawing } from '@/sheet/upload'
import { useImport } from '@/job/useImport'
import type { useDrawing } from '@/sheet/useDrawing'

const props = defineProps<{ draw: ReturnType<typeof useDrawing> }>()
const emit = defineEmits<{ fit: []; zoom: [factor: number] }>()
const job = useJob()
const view = useView()
const library = useLibrary()
const selection = useSelection()
const { tools, named } = useTools()
const { note: said, typed, draft, thickness, choices, choice } = props.draw
const importing = useImport()
const make = useMake()

const here = computed(() => tools.value.filter((tool) => tool.stages.includes(view.stage)))
/** The stage's tools under words: those that look first, then by the stage that what they make belongs to. */
const groups = computed(() => {
  const found = new Map<string, Tool[]>()
  for (const tool of here.value) {
    const home = tool.kind ? library.about(tool.kind).stage : null
    const name = tool.kind ? (library.stages.find((s) => s.id === home)?.name ?? '') : tool.changes ? 'Change' : 'Look'
    found.set(name, [...(found.get(name) ?? []), tool])
  }
  return [...found].map(([name, tools]) => ({ name, tools }))
})
const keyOf = (key: string): string => (key === 'Escape' ? 'Esc' : key.toUpperCase())
const hint = computed(() => (view.tool === 'select' ? '' : named(view.tool).hint))
const { busy: uploading, guarded } = useGuarded(said)

async function importFile(event: Event): Promise<void> {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  input.value = ''
  if (file) await importing.send(file)
}
async function upload(event: Event): Promise<void> {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  if (!file || !view.storey) return
  const storeyId = view.storey.id
  const kept = await guarded(() => uploadDrawing(job.id, storeyId, file))
  input.value = ''
  if (!kept) return
  const underlay = make('underlay', kept)
  job.edit('Add a drawing', [{ op: 'put', element: underlay }])
  selection.select(underlay.id)
  view.tool = 'scale'
  emit('fit')
}
</script>

<template>
  <div class="strip" @click.stop @pointerdown.stop @dblclick.stop>
    <div class="tools" role="toolbar" aria-label="Tools" aria-orientation="vertical">
      <div v-for="group in groups" :key="group.name" class="group" role="group" :aria-label="group.name">
        <span class="word" aria-hidden="true">{{ group.name }}</span>
        <button
          v-for="tool in group.tools"
          :key="tool.name"
          type="button"
          class="tool"
          :class="{ on: view.tool === tool.name }"
          :aria-pressed="view.tool === tool.name"
          :aria-label="tool.label"
          :aria-keyshortcuts="tool.key ?? undefined"
          @click="view.tool = tool.name"
        >
          <Glyph :name="tool.sign" />
          <span class="tip" aria-hidden="true"
            >{{ tool.label }} <kbd v-if="tool.key">{{ keyOf(tool.key) }}</kbd></span
          >
        </button>
      </div>
      <div v-if="view.stage === 'plan'" class="group" role="group" aria-label="Drawing">
        <span class="word" aria-hidden="true">Drawing</span>
        <label class="tool file" :class="{ busy: uploading }">
          <input
            type="file"
            accept="image/png,image/jpeg,application/pdf"
            aria-label="Add a drawing"
            :disabled="uploading"
            @change="upload"
          /><span class="pi pi-image" aria-hidden="true" />
          <span class="tip" aria-hidden="true">Picture under the sheet: PNG, JPEG, PDF</span>
        </label>
        <label class="tool file" :class="{ busy: importing.sending }">
          <input
            type="file"
            accept=".dxf,.ifc,.pdf,.svg,.geojson,.json,image/png,image/jpeg"
            aria-label="Import a drawing"
            :disabled="importing.sending"
            @change="importFile"
          /><Glyph name="import" />
          <span class="tip" aria-hidden="true">Import a drawing: walls are proposed from it</span>
        </label>
      </div>
      <div class="group" role="group" aria-label="View">
        <span class="word" aria-hidden="true">View</span>
        <button type="button" class="tool" aria-label="Zoom in" @click="emit('zoom', 1.3)">
          <span class="pi pi-plus" aria-hidden="true" />
          <span class="tip" aria-hidden="true">Zoom in <kbd>+</kbd></span>
        </button>
        <button type="button" class="tool" aria-label="Zoom out" @click="emit('zoom', 1 / 1.3)">
          <span class="pi pi-minus" aria-hidden="true" />
          <span class="tip" aria-hidden="true">Zoom out <kbd>−</kbd></span>
        </button>
        <button type="button" class="tool" aria-label="Show the whole sheet" @click="emit('fit')">
          <span class="pi pi-arrows-alt" aria-hidden="true" />
          <span class="tip" aria-hidden="true">Show the whole storey <kbd>Shift 0</kbd></span>
        </button>
      </div>
    </div>
    <div v-if="hint || said || uploading" class="say">
      <span v-if="uploading" role="status">Reading the drawing…</span>
      <template v-if="view.tool !== 'select'">
        <strong>{{ named(view.tool).label }}</strong>
        <select
          v-if="choices.length"
          v-model="choice"
          class="field"
          :aria-label="`Which ${named(view.tool).label.toLowerCase()}`"
        >
          <option v-for="[id, label] in choices" :key="id" :value="id">{{ label }}</option>
        </select>
        <input
          v-if="named(view.tool).kind === 'wall'"
          v-model="thickness"
          class="field narrow"
          placeholder="thick"
          aria-label="Thickness of new walls"
          inputmode="decimal"
        />
        <form v-if="view.tool === 'scale' && draft.length === 2" class="length" @submit.prevent="draw.finish()">
          <label>Known length <input v-model="typed" class="field number" aria-label="Known length" autofocus /></label>
          <button type="submit" class="ink-button primary">Set</button>
        </form>
        <span v-else class="quiet">{{ hint }}</span>
      </template>
      <span v-if="said" class="note" role="alert">▲ {{ said }}</span>
    </div>
  </div>
</template>

<style scoped>
.strip {
  position: absolute;
  top: 10px;
  left: 10px;
  right: 10px;
  display: flex;
  gap: 8px;
  align-items: flex-start;
  pointer-events: none;
  cursor: default;
}
.tools {
  pointer-events: auto;
  width: 64px;
  background: var(--paper-raised);
  border: 1px solid var(--rule);
  border-radius: 2px;
}
.group {
  display: grid;
  grid-template-columns: 1fr 1fr;
  border-bottom: 1px solid var(--rule);
}
.group:last-child {
  border-bottom: 0;
}
.word {
  grid-column: 1 / -1;
  padding: 2px 5px 0;
  font-size: 0.72rem;
  line-height: 1.2;
  color: var(--ink-quiet);
}
@container sheet (max-height: 520px) {
  .tools {
    width: 126px;
  }
  .group {
    grid-template-columns: repeat(4, 1fr);
  }
}
@container sheet (max-height: 300px) {
  .tools {
    width: 250px;
  }
  .group {
    display: inline-grid;
    border-bottom: 0;
  }
}
.tip {
  display: none;
  position: absolute;
  left: 100%;
  top: 2px;
  margin-left: 4px;
  z-index: 3;
  padding: 1px 8px;
  white-space: nowrap;
  background: var(--ink);
  color: var(--paper);
  font-size: 0.86rem;
  pointer-events: none;
}
.tip kbd {
  border-color: currentcolor;
  background: none;
  color: inherit;
}
.tool:hover .tip,
.tool:focus-visible .tip,
.file:focus-within .tip {
  display: block;
}
.tool {
  position: relative;
  width: 31px;
  height: 28px;
  border: 0;
  background: none;
  color: var(--ink);
  display: grid;
  place-items: center;
  cursor: pointer;
  padding: 0;
}
.tool:hover {
  color: var(--heather);
  background: var(--heather-tint);
}
.tool.on {
  background: var(--heather);
  color: var(--on-heather);
}
.tool .pi {
  font-size: 0.8rem;
}
.file input {
  position: absolute;
  inset: 0;
  opacity: 0;
  cursor: pointer;
  width: 30px;
}
.file:focus-within {
  outline: 2px solid var(--heather);
}
.say {
  pointer-events: auto;
  display: flex;
  flex-wrap: wrap;
  gap: 4px 10px;
  align-items: center;
  background: var(--paper-raised);
  border: 1px solid var(--rule);
  border-radius: 2px;
  padding: 4px 10px;
  max-width: 640px;
  font-size: 0.9rem;
}
.length {
  display: flex;
  gap: 6px;
  align-items: center;
}
.length .field {
  width: 6em;
}
.note {
  color: var(--rust);
  flex-basis: 100%;
}
.narrow {
  width: 4rem;
}
</style>
