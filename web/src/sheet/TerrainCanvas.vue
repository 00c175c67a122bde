<script setup lang="ts">
/** The canvas under the ink; repainted when terrain, view, need or sheet changes. */
import { computed, onBeforeUnmount, useTemplateRef, watch } from 'vue'
import { useJob } from '@/job/useJob'
import { useLibrary } from '@/job/useLibrary'
import { useAirView } from '@/air/useAirView'
import { useView } from '@/job/useView'
import { atOf } from '@/job/types'
import { bounds, storeyOf } from '@/sheet/elements'
import { toScreen, type View } from '@/sheet/geometry'
import { paintTerrain, type Need } from '@/sheet/paintTerrain'
import type { Terrain } from '@/sheet/terrain'
import { usePreferences } from '@/units/preferences'

const props = defineProps<{
  terrain: Terrain | null
  other?: Terrain | null
  view: View
  width: number
  height: number
}>()
const job = useJob()
const library = useLibrary()
const place = useView()
const airView = useAirView()
const preferences = usePreferences()
const canvas = useTemplateRef<HTMLCanvasElement>('canvas')

const spaces = computed(() => job.of('space').filter((space) => space.storey_id === place.storey?.id))
/** The parts of walks on this storey, corner to corner. */
const walks = computed(() =>
  job.of('walk').flatMap((walk) =>
    walk.stops.slice(1).flatMap((b, i) => {
      const a = walk.stops[i]
      return a && a.storey_id === place.storey?.id && b.storey_id === a.storey_id ? [[a.at, b.at]] : []
    }),
  ),
)
const needs = computed<Need[]>(() =>
  spaces.value.flatMap((space) => {
    const need = library.shelves?.needs[space.need]
    const dbm =
      airView.compare?.how === 'difference'
        ? null
        : airView.signal === 'best' || airView.signal === 'failed'
          ? need?.best_dbm
          : airView.signal === 'second'
            ? need?.second_dbm
            : null
    return need?.band === airView.band && typeof dbm === 'number'
      ? [{ outline: space.outline, dbm: Math.round(dbm / 5) * 5 }]
      : []
  }),
)
const taken = computed(() => {
  const signs = job.all
    .flatMap((e) => (storeyOf(e, job.elements) === place.storey?.id ? (atOf(e) ?? []) : []))
    .map((at) => toScreen(props.view, at))
  const names = spaces.value.map((space) => {
    const box = bounds(space.outline)
    const at = toScreen(props.view, { x_m: box.x0, y_m: box.y0 })
    return { x: at.x + 36, y: at.y + 18 }
  })
  return [...signs.flatMap((s) => [s, { x: s.x, y: s.y + 24 }]), ...names]
})

function paint(): void {
  const element = canvas.value
  const context = element?.getContext('2d')
  if (!element || !context) return
  const ratio = window.devicePixelRatio || 1
  const [w, h] = [Math.round(props.width * ratio), Math.round(props.height * ratio)]
  if (element.width !== w) element.width = w
  if (element.height !== h) element.height = h
  if (!props.terrain) return context.clearRect(0, 0, w, h)
  const scene = {
    terrain: props.terrain,
    view: props.view,
    night: preferences.night,
    spaces: spaces.value,
    walks: walks.value,
    needs: needs.value,
    mainNeed: airView.compare?.how === 'difference' ? 0 : -65,
    taken: taken.value,
    figures: airView.signal !== 'server',
  }
  paintTerrain(context, props.width, props.height, scene)
  if (props.other)
    paintTerrain(context, props.width, props.height, {
      ...scene,
      terrain: props.other,
      from: props.width * airView.split,
    })
  element.dataset.painted = String(Number(element.dataset.painted ?? 0) + 1)
}
let frame = 0
function soon(): void {
  cancelAnimationFrame(frame)
  frame = requestAnimationFrame(paint)
}
watch(
  [
    () => props.terrain,
    () => props.other,
    () => airView.split,
    () => props.view,
    () => props.width,
    () => props.height,
    needs,
    taken,
    () => preferences.night,
    walks,
    canvas,
  ],
  soon,
  { immediate: true },
)
onBeforeUnmount(() => cancelAnimationFrame(frame))
</script>

<template>
  <canvas ref="canvas" class="terrain" aria-hidden="true" />
</template>

<style scoped>
.terrain {
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
}
</style>
