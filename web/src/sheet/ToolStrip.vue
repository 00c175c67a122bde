<script setup lang="ts">
/** The tools of this stage, the one in hand with what it needs, and what it last said. */
import { computed, ref } from 'vue'
import { Refusal, Unreachable } from '@/api/client'
import Glyph from '@/ink/Glyph.vue'
import { useJob } from '@/job/useJob'
import { useLibrary } from '@/job/useLibrary'
import { useView } from '@/job/useView'
import { toolNamed, TOOLS } from '@/sheet/tools'
import { uploadDrawing } from '@/sheet/upload'
import { FIXTURES, LINES, REASONS, SHAFTS } from '@/job/make'
import { useImport } from '@/job/useImport'
import type { useDrawing } from '@/sheet/useDrawing'

const props = defineProps<{ draw: ReturnType<typeof useDrawing> }>()
const emit = defineEmits<{ fit: []; zoom: [factor: number] }>()
const job = useJob()
const view = useView()
const library = useLibrary()
const uploading = ref(false)
const { note: said, buildUp, model, thing, typed, draft, thickness, shaftKind, reason, plant, fixtureKind, lineKind } = props.draw
const importing = useImport()

const here = computed(() => TOOLS.filter((tool) => tool.stages.includes(view.stage)))
const hint = computed(() => (view.tool === 'select' ? '' : toolNamed(view.tool).hint))
const walls = computed(() => Object.entries(library.shelves?.build_ups ?? {}).filter(([, b]) => b.kind === 'wall'))
const note = computed(() => said.value || job.refusal)

const plants = computed(() => Object.entries(library.shelves?.build_ups ?? {}).filter(([, b]) => b.kind === 'planting'))

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
  uploading.value = true
  try {
    const underlay = await uploadDrawing(job.id, view.storey.id, file)
    job.edit('Add a drawing', [{ op: 'put', element: underlay }])
    view.select(underlay.id)
    view.tool = 'scale'
    emit('fit')
  } catch (error) {
    if (!(error instanceof Refusal || error instanceof Unreachable)) throw error
    said.value = error.message
  } finally {
    uploading.value = false
    input.value = ''
  }
}
</script>

<template>
  <div class="strip" @click.stop @pointerdown.stop @dblclick.stop>
    <div class="tools" :class="{ two: here.length > 16 }" role="toolbar" aria-label="Tools">
      <button
        v-for="tool in here" :key="tool.name" type="button" class="tool" :class="{ on: view.tool === tool.name }" :aria-pressed="view.tool === tool.name"
        :title="`${tool.label}${tool.key ? ` (${tool.key === 'Escape' ? 'Esc' : tool.key.toUpperCase()})` : ''}: ${tool.hint}`" :aria-label="tool.label" @click="view.tool = tool.name"
      >
        <Glyph :name="tool.glyph" />
      </button>
      <label v-if="view.stage === 2" class="tool file" :class="{ busy: uploading }" title="Add a drawing: PNG, JPEG or a page of a PDF">
        <input type="file" accept="image/png,image/jpeg,application/pdf" aria-label="Add a drawing" :disabled="uploading" @change="upload" /><span class="pi pi-image" aria-hidden="true" />
      </label>
      <label v-if="view.stage === 2" class="tool file" :class="{ busy: importing.sending }" title="Import a drawing: DXF, IFC, PDF, SVG, GeoJSON or a picture; walls are proposed from it">
        <input type="file" accept=".dxf,.ifc,.pdf,.svg,.geojson,.json,image/png,image/jpeg" aria-label="Import a drawing" :disabled="importing.sending" @change="importFile" /><Glyph name="import" />
      </label>
      <span class="gap" />
      <button type="button" class="tool" title="Zoom in (+)" aria-label="Zoom in" @click="emit('zoom', 1.3)"><span class="pi pi-plus" aria-hidden="true" /></button>
      <button type="button" class="tool" title="Zoom out (-)" aria-label="Zoom out" @click="emit('zoom', 1 / 1.3)"><span class="pi pi-minus" aria-hidden="true" /></button>
      <button type="button" class="tool" title="Show the whole sheet (Shift+0)" aria-label="Show the whole sheet" @click="emit('fit')"><span class="pi pi-arrows-alt" aria-hidden="true" /></button>
    </div>
    <div v-if="hint || note || uploading" class="say">
      <span v-if="uploading" role="status">Reading the drawing…</span>
      <template v-if="view.tool !== 'select'">
        <strong>{{ toolNamed(view.tool).label }}</strong>
        <select v-if="view.tool === 'wall' || view.tool === 'curve'" v-model="buildUp" class="field" aria-label="Build-up of new walls">
          <option v-for="[id, b] in walls" :key="id" :value="id">{{ b.label }}</option>
        </select>
        <input v-if="view.tool === 'wall' || view.tool === 'curve'" v-model="thickness" class="field narrow" placeholder="thick" aria-label="Thickness of new walls" inputmode="decimal" />
        <select v-if="view.tool === 'shaft'" v-model="shaftKind" class="field" aria-label="Kind of shaft"><option v-for="kind in SHAFTS" :key="kind">{{ kind }}</option></select>
        <select v-if="view.tool === 'no-go'" v-model="reason" class="field" aria-label="Why nothing may be fitted"><option v-for="why in REASONS" :key="why">{{ why }}</option></select>
        <select v-if="view.tool === 'planting'" v-model="plant" class="field" aria-label="What grows"><option v-for="[id, b] in plants" :key="id" :value="id">{{ b.label }}</option></select>
        <select v-if="view.tool === 'fixture'" v-model="fixtureKind" class="field" aria-label="Kind of fixture"><option v-for="(label, id) in FIXTURES" :key="id" :value="id">{{ label }}</option></select>
        <select v-if="view.tool === 'line'" v-model="lineKind" class="field" aria-label="Kind of line"><option v-for="(label, id) in LINES" :key="id" :value="id">{{ label }}</option></select>
        <select v-if="view.tool === 'access-point'" v-model="model" class="field" aria-label="Model of new access points">
          <option v-for="(m, id) in library.shelves?.access_points" :key="id" :value="id">{{ m.label }}</option>
        </select>
        <select v-if="view.tool === 'device'" v-model="thing" class="field" aria-label="Kind of new things">
          <option v-for="(m, id) in library.shelves?.devices" :key="id" :value="id">{{ m.label }}</option>
        </select>
        <form v-if="view.tool === 'scale' && draft.length === 2" class="length" @submit.prevent="draw.finish()">
          <label>Known length <input v-model="typed" class="field number" aria-label="Known length" autofocus /></label>
          <button type="submit" class="ink-button primary">Set</button>
        </form>
        <span v-else class="quiet">{{ hint }}</span>
      </template>
      <span v-if="note" class="note" role="alert">▲ {{ note }}</span>
    </div>
  </div>
</template>

<style scoped>
.strip { position: absolute; top: 10px; left: 10px; right: 10px; display: flex; gap: 8px; align-items: flex-start; pointer-events: none; cursor: default; }
.tools { pointer-events: auto; display: flex; flex-direction: column; background: var(--paper-raised); border: 1px solid var(--rule); border-radius: 2px; }
.tools.two { display: grid; grid-template-columns: 1fr 1fr; }
.tools.two .gap { display: none; }
@container sheet (max-height: 430px) { .tools { display: grid; grid-template-columns: 1fr 1fr; } .gap { display: none; } }
.tool { width: 30px; height: 28px; border: 0; background: none; color: var(--ink); display: grid; place-items: center; cursor: pointer; padding: 0; }
.tool:hover { color: var(--heather); background: var(--heather-tint); }
.tool.on { background: var(--heather); color: var(--on-heather); }
.tool .pi { font-size: 0.8rem; }
.gap { height: 1px; background: var(--rule); }
.file { position: relative; }
.file input { position: absolute; inset: 0; opacity: 0; cursor: pointer; width: 30px; }
.file:focus-within { outline: 2px solid var(--heather); }
.say { pointer-events: auto; display: flex; flex-wrap: wrap; gap: 4px 10px; align-items: center; background: var(--paper-raised); border: 1px solid var(--rule); border-radius: 2px; padding: 4px 10px; max-width: 640px; font-size: 0.9rem; }
.length { display: flex; gap: 6px; align-items: center; }
.length .field { width: 6em; }
.note { color: var(--rust); flex-basis: 100%; }
.narrow { width: 4rem; }
</style>
