<script setup lang="ts">
/** The tools of this stage, the one in hand with what it needs, and what it last said. */
import { computed } from 'vue'
import { useGuarded } from '@/api/useGuarded'
import Glyph from '@/ink/Glyph.vue'
import { useMake } from '@/job/make'
import { useJob } from '@/job/useJob'
import { useSelection } from '@/job/useSelection'
import { useView } from '@/job/useView'
import { useTools } from '@/sheet/tools'
import { uploadDrawing } from '@/sheet/upload'
import { useImport } from '@/job/useImport'
import type { useDrawing } from '@/sheet/useDrawing'

const props = defineProps<{ draw: ReturnType<typeof useDrawing> }>()
const emit = defineEmits<{ fit: []; zoom: [factor: number] }>()
const job = useJob()
const view = useView()
const selection = useSelection()
const { tools, named } = useTools()
const { note: said, typed, draft, thickness, choices, choice } = props.draw
const importing = useImport()
const make = useMake()

const here = computed(() => tools.value.filter((tool) => tool.stages.includes(view.stage)))
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
    <div class="tools" :class="{ two: here.length > 16 }" role="toolbar" aria-label="Tools">
      <button
        v-for="tool in here"
        :key="tool.name"
        type="button"
        class="tool"
        :class="{ on: view.tool === tool.name }"
        :aria-pressed="view.tool === tool.name"
        :title="`${tool.label}${tool.key ? ` (${tool.key === 'Escape' ? 'Esc' : tool.key.toUpperCase()})` : ''}: ${tool.hint}`"
        :aria-label="tool.label"
        @click="view.tool = tool.name"
      >
        <Glyph :name="tool.sign" />
      </button>
      <label
        v-if="view.stage === 'plan'"
        class="tool file"
        :class="{ busy: uploading }"
        title="Add a drawing: PNG, JPEG or a page of a PDF"
      >
        <input
          type="file"
          accept="image/png,image/jpeg,application/pdf"
          aria-label="Add a drawing"
          :disabled="uploading"
          @change="upload"
        /><span class="pi pi-image" aria-hidden="true" />
      </label>
      <label
        v-if="view.stage === 'plan'"
        class="tool file"
        :class="{ busy: importing.sending }"
        title="Import a drawing: DXF, IFC, PDF, SVG, GeoJSON or a picture; walls are proposed from it"
      >
        <input
          type="file"
          accept=".dxf,.ifc,.pdf,.svg,.geojson,.json,image/png,image/jpeg"
          aria-label="Import a drawing"
          :disabled="importing.sending"
          @change="importFile"
        /><Glyph name="import" />
      </label>
      <span class="gap" />
      <button type="button" class="tool" title="Zoom in (+)" aria-label="Zoom in" @click="emit('zoom', 1.3)">
        <span class="pi pi-plus" aria-hidden="true" />
      </button>
      <button type="button" class="tool" title="Zoom out (-)" aria-label="Zoom out" @click="emit('zoom', 1 / 1.3)">
        <span class="pi pi-minus" aria-hidden="true" />
      </button>
      <button
        type="button"
        class="tool"
        title="Show the whole sheet (Shift+0)"
        aria-label="Show the whole sheet"
        @click="emit('fit')"
      >
        <span class="pi pi-arrows-alt" aria-hidden="true" />
      </button>
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
  display: flex;
  flex-direction: column;
  background: var(--paper-raised);
  border: 1px solid var(--rule);
  border-radius: 2px;
}
.tools.two {
  display: grid;
  grid-template-columns: 1fr 1fr;
}
.tools.two .gap {
  display: none;
}
@container sheet (max-height: 430px) {
  .tools {
    display: grid;
    grid-template-columns: 1fr 1fr;
  }
  .tools.two {
    grid-template-columns: 1fr 1fr 1fr;
  }
  .gap {
    display: none;
  }
}
.tool {
  width: 30px;
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
.gap {
  height: 1px;
  background: var(--rule);
}
.file {
  position: relative;
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
