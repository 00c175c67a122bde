<script setup lang="ts">
/** The building to walk round: storeys apart, a cut, runs, signs and terrain; a press goes back to the sheet. */
import { useEventListener } from '@vueuse/core'
import { Group } from 'three'
import { computed, ref, shallowRef, useTemplateRef, watch } from 'vue'
import { fetchTerrain } from '@/api/client'
import { useGuarded } from '@/api/useGuarded'
import { useAssessment } from '@/job/useAssessment'
import { useJob } from '@/job/useJob'
import { atOf, heightOf } from '@/job/types'
import { storeyOf } from '@/sheet/elements'
import { useAirView } from '@/air/useAirView'
import { useView } from '@/job/useView'
import { dispose, useRenderer } from '@/look/useRenderer'
import { inksOf, runLine, sign, storeyGroup, terrainFloor, type StoreyLook } from '@/look/scene'
import { decode } from '@/sheet/terrain'
import { usePreferences } from '@/units/preferences'

const job = useJob()
const view = useView()
const airView = useAirView()
const assessment = useAssessment()
const preferences = usePreferences()
const host = useTemplateRef<HTMLElement>('host')
const apart = ref(1)
const cut = ref(100)
const runs = ref(true)
const ground = ref(true)
const { said, guarded } = useGuarded()
const painted = ref(0)
const looks = shallowRef<StoreyLook[]>([])
const contents = new Group()
const { failed, frameAll, render, pressed, keys, lives } = useRenderer(host, contents, cut, build)
const top = computed(() => view.storeys.at(-1))

/** Heights are drawn apart storey by storey. */
function lift(z: number): number {
  const index = view.storeys.findLastIndex((s) => s.elevation_m <= z + 1e-6)
  return z + Math.max(index, 0) * (apart.value - 1) * 4
}
function build(): void {
  dispose(contents)
  contents.clear()
  const colours = inksOf(preferences.night)
  const made = view.storeys.map((storey) => {
    const group = storeyGroup(
      storey,
      job.of('wall').filter((w) => w.storey_id === storey.id),
      job.of('opening'),
      job.of('space').filter((s) => s.storey_id === storey.id),
      colours,
    )
    group.position.y = lift(storey.elevation_m)
    group.userData = { storey: storey.id }
    for (const e of [...job.of('access-point'), ...job.of('equipment'), ...job.of('rack')]) {
      const at = storeyOf(e, job.elements) === storey.id ? atOf(e) : null
      if (at) group.add(sign(at, heightOf(e), e.kind === 'access-point' ? colours.heather : colours.tarn))
    }
    contents.add(group)
    return { storey, group }
  })
  looks.value = made
  if (runs.value) for (const run of assessment.found?.runs ?? []) contents.add(runLine(run, lift, colours.tarn))
  void paintGround()
  render()
}
async function paintGround(): Promise<void> {
  if (!ground.value || !job.of('access-point').length) return
  const now = looks.value
  for (const { storey, group } of now) {
    const body = { storey_id: storey.id, band: airView.band, signal: airView.signal, way: airView.way, moved: null }
    const layer = await guarded(() => fetchTerrain(job.id, body))
    if (looks.value !== now || !lives()) return
    if (!layer) {
      said.value = 'The terrain could not be fetched; the building is shown without it.'
      return
    }
    painted.value += 1
    group.add(
      terrainFloor(
        decode(layer),
        job.of('space').filter((s) => s.storey_id === storey.id),
        preferences.night,
      ),
    )
  }
  render()
}
/** A press on a floor opens that storey's sheet at the same place. */
function back(event: MouseEvent): void {
  const place = pressed(event)
  if (!place) return
  view.chosenStorey = place.storey
  view.goTo = place.at
  view.look = 'sheet'
}
watch(
  [
    () => job.elements,
    () => assessment.found,
    () => preferences.night,
    () => airView.band,
    () => airView.signal,
    () => airView.way,
    apart,
    runs,
    ground,
  ],
  build,
)
useEventListener(host, 'dblclick', back)
</script>

<template>
  <section
    ref="host"
    class="look"
    :data-painted="painted"
    tabindex="0"
    role="group"
    :aria-label="`The building in three dimensions, ${view.storeys.length} storeys up to ${top?.label ?? ''}`"
    @keydown="keys"
  >
    <p v-if="failed" class="failed" role="alert">{{ failed }}</p>
    <p v-else-if="!job.of('wall').length" class="failed quiet">Nothing is drawn yet. Draw or import walls in Plan.</p>
    <form class="panel" @submit.prevent>
      <label
        >Apart <input v-model.number="apart" type="range" min="1" max="3" step="0.1" aria-label="Storeys apart"
      /></label>
      <label
        >Cut <input v-model.number="cut" type="range" min="5" max="100" aria-label="Cut through the building"
      /></label>
      <label><input v-model="runs" type="checkbox" /> runs</label>
      <label><input v-model="ground" type="checkbox" /> terrain, {{ airView.band }} GHz</label>
      <button type="button" class="ink-button" @click="frameAll">Show all</button>
    </form>
    <p class="hint quiet">
      {{ said || 'Drag to turn, wheel to come nearer, right button to move; a double press opens the sheet there.' }}
    </p>
  </section>
</template>

<style scoped>
.look {
  position: relative;
  overflow: hidden;
  background: var(--paper);
  min-width: 0;
  min-height: 0;
  outline-offset: -3px;
}
.look :deep(canvas) {
  display: block;
  position: absolute;
  inset: 0;
}
.panel {
  position: absolute;
  left: 12px;
  top: 12px;
  display: flex;
  gap: 14px;
  align-items: center;
  background: var(--paper-raised);
  border: 1px solid var(--ink);
  padding: 4px 10px;
  font-size: 0.9rem;
  flex-wrap: wrap;
}
.panel label {
  display: flex;
  gap: 5px;
  align-items: center;
}
input[type='range'] {
  width: 90px;
  accent-color: var(--heather);
}
.hint {
  position: absolute;
  left: 12px;
  bottom: 8px;
  margin: 0;
  font-size: 0.86rem;
  background: var(--halo);
  padding: 0 4px;
}
.failed {
  position: absolute;
  inset: 30% 15% auto;
  text-align: center;
}
</style>
