<script setup lang="ts">
/** The sheet: the building of one storey with the layers of the stage inked on it. */
import { useEventListener } from '@vueuse/core'
import { computed, onMounted, useTemplateRef } from 'vue'
import { useJob } from '@/job/useJob'
import { useLibrary } from '@/job/useLibrary'
import { usePointer } from '@/job/usePointer'
import { useView } from '@/job/useView'
import { useAccount } from '@/job/useAccount'
import { useImport } from '@/job/useImport'
import { atOf, modelOf, type Standing } from '@/job/types'
import { useWiring } from '@/job/useWiring'
import { useDrop } from '@/jobs/useDrop'
import BridgesLayer from '@/sheet/BridgesLayer.vue'
import ProposedLayer from '@/sheet/ProposedLayer.vue'
import DetourLayer from '@/sheet/DetourLayer.vue'
import DraftLayer from '@/sheet/DraftLayer.vue'
import EmptySheet from '@/sheet/EmptySheet.vue'
import FailingLayer from '@/sheet/FailingLayer.vue'
import LiveLayer from '@/sheet/LiveLayer.vue'
import GhostLayer from '@/sheet/GhostLayer.vue'
import HandlesLayer from '@/sheet/HandlesLayer.vue'
import MarksLayer from '@/sheet/MarksLayer.vue'
import PencilLayer from '@/sheet/PencilLayer.vue'
import { drawn } from '@/sheet/elements'
import { toScreen, toSheet } from '@/sheet/geometry'
import NamesLayer from '@/sheet/NamesLayer.vue'
import PlanLayer from '@/sheet/PlanLayer.vue'
import RouteLayer from '@/sheet/RouteLayer.vue'
import RunsLayer from '@/sheet/RunsLayer.vue'
import SheetLegend from '@/sheet/SheetLegend.vue'
import TerrainCanvas from '@/sheet/TerrainCanvas.vue'
import ThingsLayer from '@/sheet/ThingsLayer.vue'
import ToolStrip from '@/sheet/ToolStrip.vue'
import SheetNotice from '@/sheet/SheetNotice.vue'
import SplitBar from '@/sheet/SplitBar.vue'
import WalkLayer from '@/sheet/WalkLayer.vue'
import { useDetour } from '@/runs/useDetour'
import { useBox } from '@/sheet/useBox'
import { useDragging } from '@/sheet/useDragging'
import { useDrawing } from '@/sheet/useDrawing'
import { useTerrain } from '@/sheet/useTerrain'
import { useFit } from '@/sheet/useFit'
import { useSheetKeys } from '@/sheet/useSheetKeys'
import { useViewport } from '@/sheet/useViewport'
import { levelAt } from '@/sheet/terrain'

const job = useJob()
const view = useView()
const pointer = usePointer()
const library = useLibrary()
const host = useTemplateRef<HTMLElement>('host')
const drawing = computed(() => view.tool !== 'select')
const viewport = useViewport(host, () => drawing.value)
const draw = useDrawing(viewport.view)
const showTerrain = computed(() => view.stage === 'air')
const { terrain, other, beside, ask } = useTerrain(() => showTerrain.value)
const box = useBox(where)
const dragging = useDragging(viewport.view, (moved) => void ask(moved))
const detour = useDetour(where)
const transform = computed(
  () => `translate(${viewport.view.value.x} ${viewport.view.value.y}) scale(${viewport.view.value.k})`,
)
const here = computed(() => draw.pointer.value)
const spot = computed(() =>
  here.value && terrain.value ? levelAt(terrain.value, here.value.x_m, here.value.y_m) : null,
)
const spots = computed(() => {
  const at = here.value
  return at ? [...beside.value].map(([band, layer]) => ({ band, level: levelAt(layer, at.x_m, at.y_m) })) : []
})
const leader = computed(() => {
  const place = pointer.pointed?.finding.place
  return place && place.storey_id === view.storey?.id ? toScreen(viewport.view.value, place.at) : null
})
const account = useAccount()
const wire = useWiring()
const drop = useDrop((file) => {
  view.stage = 'plan'
  void importing.send(file)
})
const importing = useImport()
const empty = computed(
  () =>
    job.loaded &&
    !importing.state &&
    !drawn(job.all.filter((e) => !('storey_id' in e) || e.storey_id === view.storey?.id)).length &&
    view.tool === 'select',
)
/** Where a stage stands in the order of the work. */
const at = (stage: string): number => library.stages.findIndex((s) => s.id === stage)

function where(event: MouseEvent) {
  const box = host.value?.getBoundingClientRect()
  return toSheet(viewport.view.value, event.clientX - (box?.left ?? 0), event.clientY - (box?.top ?? 0))
}
function move(event: PointerEvent): void {
  // A browser tells of a pointer at rest when the page changes under it; the cross of the keys stays.
  if (cross.value && !event.movementX && !event.movementY) return
  draw.pointer.value = where(event)
  cross.value = false
  box.move(event)
  dragging.drag(event)
}
function click(event: MouseEvent): void {
  if (!drawing.value || event.button !== 0) return
  host.value?.focus()
  if (view.tool === 'account') void account.open(where(event))
  else draw.press(where(event))
}
async function pressThing(element: Standing): Promise<void> {
  const place = atOf(element)
  if (view.tool === 'link' && library.model(modelOf(element))) draw.note.value = await wire.runTo(element)
  else if (place) draw.press(place)
}
const fitAll = useFit(viewport)
const { cross, keydown } = useSheetKeys(
  { draw, dragging, viewport },
  { fit: fitAll, account: (at) => void account.open(at) },
)
useEventListener('pointerup', () => {
  dragging.drop()
  box.end()
})
useEventListener('pointercancel', dragging.giveUp)
useEventListener('keydown', (event: KeyboardEvent) => {
  if (event.key === 'Escape') {
    draw.cancel()
    dragging.giveUp()
  }
})
onMounted(() => void library.load())
</script>

<template>
  <section
    ref="host"
    class="sheet"
    :class="{ drawing, panning: viewport.panning.value }"
    tabindex="0"
    :aria-label="`Sheet: plan of ${view.storey?.label ?? 'nothing yet'}`"
    @pointerdown="box.begin"
    @pointermove="move"
    @mousedown="drawing && host?.focus()"
    @click="click"
    @keydown="keydown"
    @pointerleave="draw.pointer.value = null"
    @dragover="drop.dragover"
    @dragleave="drop.dragleave"
    @drop="drop.drop"
  >
    <TerrainCanvas
      v-if="showTerrain"
      :terrain="terrain"
      :other="other"
      :view="viewport.view.value"
      :width="viewport.width.value"
      :height="viewport.height.value"
    />
    <svg
      class="ink"
      :width="viewport.width.value"
      :height="viewport.height.value"
      role="group"
      aria-label="What is drawn"
    >
      <g :transform="transform">
        <PlanLayer :k="viewport.view.value.k" :terrain="showTerrain" />
        <MarksLayer :k="viewport.view.value.k" />
        <RunsLayer
          v-if="at('air') <= at(view.stage)"
          :k="viewport.view.value.k"
          :strong="view.stage !== 'air'"
          @grab="(event, run, leg) => detour.grab(event, { run, leg })"
        />
        <NamesLayer :k="viewport.view.value.k" :scores="view.stage === 'air'" />
        <ThingsLayer :k="viewport.view.value.k" :held="dragging.held.value" @grab="dragging.grab" @press="pressThing" />
        <HandlesLayer v-if="view.stage === 'plan' && !drawing" :k="viewport.view.value.k" :where="where" />
        <BridgesLayer v-if="at('air') <= at(view.stage)" :k="viewport.view.value.k" />
        <DetourLayer v-if="at('links') <= at(view.stage)" :k="viewport.view.value.k" :detour="detour" />
        <ProposedLayer v-if="view.stage === 'runs'" :k="viewport.view.value.k" />
        <FailingLayer :k="viewport.view.value.k" />
        <LiveLayer v-if="view.stage === 'network'" :k="viewport.view.value.k" />
        <GhostLayer v-if="view.stage === 'air'" :k="viewport.view.value.k" />
        <WalkLayer v-if="view.stage === 'air'" :k="viewport.view.value.k" />
        <RouteLayer :k="viewport.view.value.k" />
        <PencilLayer :k="viewport.view.value.k" />
        <rect
          v-if="box.box.value"
          class="box"
          :x="box.box.value.x"
          :y="box.box.value.y"
          :width="box.box.value.width"
          :height="box.box.value.height"
          :stroke-width="1.2 / viewport.view.value.k"
        />
        <DraftLayer
          v-if="drawing"
          :k="viewport.view.value.k"
          :draft="draw.draft.value"
          :aim="draw.aim.value"
          :typed="draw.typed.value"
          :loose="view.tool !== 'scale' || draw.draft.value.length < 2"
        />
      </g>
      <g v-if="leader && pointer.pointed" class="leader">
        <circle :cx="leader.x" :cy="leader.y" r="13" />
        <path
          v-if="pointer.pointed.y"
          :d="`M${leader.x + 13} ${leader.y}L${viewport.width.value} ${pointer.pointed.y}`"
        />
      </g>
    </svg>
    <EmptySheet v-if="empty" />
    <p v-if="drop.over.value" class="drop" role="status">Drop the drawing: walls are proposed from it</p>
    <SheetNotice v-if="view.stage === 'air'" />
    <SplitBar v-if="other" :width="viewport.width.value" />
    <ToolStrip :draw="draw" @fit="fitAll" @zoom="viewport.zoomBy" />
    <SheetLegend
      :k="viewport.view.value.k"
      :terrain="showTerrain"
      :spot="spot"
      :spots="spots"
      :at="here"
      :levels="terrain?.levels"
    />
  </section>
</template>

<style scoped>
.drop {
  position: absolute;
  inset: 12px;
  margin: 0;
  display: grid;
  place-items: center;
  border: 2px dashed var(--heather);
  background: color-mix(in srgb, var(--paper) 82%, transparent);
  pointer-events: none;
  z-index: 4;
}
.sheet {
  container: sheet / size;
  position: relative;
  overflow: hidden;
  background: var(--paper);
  outline-offset: -3px;
  cursor: default;
  touch-action: none;
  min-width: 0;
  min-height: 0;
}
.sheet.drawing {
  cursor: crosshair;
}
.sheet.panning {
  cursor: grabbing;
}
.box {
  fill: color-mix(in srgb, var(--heather) 10%, transparent);
  stroke: var(--heather);
  pointer-events: none;
}
.ink {
  position: absolute;
  inset: 0;
  display: block;
  user-select: none;
}
.leader {
  pointer-events: none;
  fill: none;
  stroke: var(--rust);
  stroke-width: 1.4;
}
</style>
