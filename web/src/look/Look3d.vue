<script setup lang="ts">
/** The building to walk round: storeys apart, a cut, runs, signs and terrain; a press goes back to the sheet. */
import { useElementSize, useEventListener } from '@vueuse/core'
import { AmbientLight, Box3, DirectionalLight, Group, Mesh, PerspectiveCamera, Plane, Raycaster, Scene, Vector2, Vector3, WebGLRenderer, type Object3D } from 'three'
import { OrbitControls } from 'three/examples/jsm/controls/OrbitControls.js'
import { computed, onBeforeUnmount, onMounted, ref, shallowRef, useTemplateRef, watch } from 'vue'
import { useAssessment } from '@/job/useAssessment'
import { useJob } from '@/job/useJob'
import { atOf, heightOf } from '@/job/types'
import { storeyOf } from '@/sheet/elements'
import { useAirView } from '@/air/useAirView'
import { useView } from '@/job/useView'
import { runLine, sign, storeyGroup, terrainFloor, type Inks, type StoreyLook } from '@/look/scene'
import { decode } from '@/sheet/terrain'
import { usePreferences } from '@/units/preferences'

const job = useJob()
const view = useView()
const airView = useAirView()
const assessment = useAssessment()
const preferences = usePreferences()
const host = useTemplateRef<HTMLElement>('host')
const { width, height } = useElementSize(host)
const apart = ref(1)
const cut = ref(100)
const runs = ref(true)
const ground = ref(true)
const failed = ref('')
const said = ref('')
const painted = ref(0)
const looks = shallowRef<StoreyLook[]>([])
let renderer: WebGLRenderer | undefined
let controls: OrbitControls | undefined
const scene = new Scene()
const camera = new PerspectiveCamera(42, 1, 0.1, 2000)
const plane = new Plane(new Vector3(0, 0, -1), 0)
const contents = new Group()
scene.add(contents, new AmbientLight(0xffffff, 1.9))
const sun = new DirectionalLight(0xffffff, 1.6)
sun.position.set(30, 60, 20)
scene.add(sun)
const top = computed(() => view.storeys.at(-1))

function inks(): Inks {
  const style = getComputedStyle(document.documentElement)
  const of = (name: string) => style.getPropertyValue(name).trim()
  return { ink: of('--ink'), paper: of('--paper-deep'), wall: preferences.night ? '#7c868c' : '#d8cfba', glass: of('--tarn'), heather: of('--heather'), tarn: of('--tarn') }
}
/** Heights are drawn apart storey by storey. */
function lift(z: number): number {
  const index = view.storeys.findLastIndex((s) => s.elevation_m <= z + 1e-6)
  return z + Math.max(index, 0) * (apart.value - 1) * 4
}
function dispose(object: Object3D): void {
  object.traverse((part) => { if (part instanceof Mesh) part.geometry.dispose() })
}
function build(): void {
  dispose(contents)
  contents.clear()
  const colours = inks()
  const made = view.storeys.map((storey) => {
    const group = storeyGroup(storey, job.of('wall').filter((w) => w.storey_id === storey.id), job.of('opening'), job.of('space').filter((s) => s.storey_id === storey.id), colours)
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
    const response = await fetch(`/api/jobs/${job.id}/air/terrain`, { method: 'POST', body: JSON.stringify(body), headers: { 'Content-Type': 'application/json' } }).catch(() => null)
    if (looks.value !== now || !renderer) return
    if (!response?.ok) {
      said.value = 'The terrain could not be fetched; the building is shown without it.'
      return
    }
    painted.value += 1
    group.add(terrainFloor(decode(await response.arrayBuffer()), job.of('space').filter((s) => s.storey_id === storey.id), preferences.night))
  }
  render()
}
function frameAll(): void {
  const box = new Box3().setFromObject(contents)
  if (box.isEmpty()) return
  const [middle, size] = [box.getCenter(new Vector3()), box.getSize(new Vector3())]
  const far = Math.max(size.x, size.z, size.y * 1.6) * 1.25
  camera.position.set(middle.x - far * 0.45, middle.y + far * 0.75, middle.z + far * 0.85)
  controls?.target.copy(middle)
  controls?.update()
}
function render(): void {
  if (!renderer) return
  const box = new Box3().setFromObject(contents)
  plane.constant = box.isEmpty() ? 1e6 : box.min.z + ((box.max.z - box.min.z) * cut.value) / 100 + 0.01
  renderer.clippingPlanes = cut.value < 100 ? [plane] : []
  renderer.render(scene, camera)
}
/** A press on a floor opens that storey's sheet at the same place. */
function back(event: MouseEvent): void {
  const area = host.value?.getBoundingClientRect()
  if (!area) return
  const at = new Vector2(((event.clientX - area.left) / area.width) * 2 - 1, -((event.clientY - area.top) / area.height) * 2 + 1)
  const ray = new Raycaster()
  ray.setFromCamera(at, camera)
  const hit = ray.intersectObjects(contents.children, true).find((h) => h.object instanceof Mesh)
  const storey = hit?.object.parent?.userData['storey'] as string | undefined
  if (!hit || !storey) return
  view.chosenStorey = storey
  view.goTo = { x_m: hit.point.x, y_m: hit.point.z }
  view.look = 'sheet'
}
function keys(event: KeyboardEvent): void {
  const turn = { ArrowLeft: 0.15, ArrowRight: -0.15 }[event.key]
  const zoom = { ArrowUp: 0.9, ArrowDown: 1.1, '+': 0.9, '-': 1.1 }[event.key]
  if (!controls || (turn === undefined && zoom === undefined)) return
  const offset = camera.position.clone().sub(controls.target)
  if (turn !== undefined) offset.applyAxisAngle(new Vector3(0, 1, 0), turn)
  if (zoom !== undefined) offset.multiplyScalar(zoom)
  camera.position.copy(controls.target).add(offset)
  controls.update()
  event.preventDefault()
}
onMounted(() => {
  try {
    renderer = new WebGLRenderer({ antialias: true, alpha: true })
  } catch {
    failed.value = 'This browser cannot draw in three dimensions. The sheet and the section show everything.'
    return
  }
  renderer.setPixelRatio(Math.min(window.devicePixelRatio, 2))
  host.value?.prepend(renderer.domElement)
  renderer.domElement.setAttribute('aria-hidden', 'true')
  controls = new OrbitControls(camera, renderer.domElement)
  controls.addEventListener('change', render)
  build()
  frameAll()
  resize()
})
function resize(): void {
  if (!renderer || !width.value || !height.value) return
  camera.aspect = width.value / height.value
  camera.updateProjectionMatrix()
  renderer.setSize(width.value, height.value)
  render()
}
watch([width, height], resize)
watch([() => job.elements, () => assessment.found, () => preferences.night, () => airView.band, () => airView.signal, () => airView.way, apart, runs, ground], build)
watch(cut, render)
useEventListener(host, 'dblclick', back)
onBeforeUnmount(() => {
  dispose(contents)
  controls?.dispose()
  renderer?.dispose()
  renderer = undefined
})
</script>

<template>
  <section ref="host" class="look" :data-painted="painted" tabindex="0" role="group" :aria-label="`The building in three dimensions, ${view.storeys.length} storeys up to ${top?.label ?? ''}`" @keydown="keys">
    <p v-if="failed" class="failed" role="alert">{{ failed }}</p>
    <p v-else-if="!job.of('wall').length" class="failed quiet">Nothing is drawn yet. Draw or import walls in Plan.</p>
    <form class="panel" @submit.prevent>
      <label>Apart <input v-model.number="apart" type="range" min="1" max="3" step="0.1" aria-label="Storeys apart" /></label>
      <label>Cut <input v-model.number="cut" type="range" min="5" max="100" aria-label="Cut through the building" /></label>
      <label><input v-model="runs" type="checkbox" /> runs</label>
      <label><input v-model="ground" type="checkbox" /> terrain, {{ airView.band }} GHz</label>
      <button type="button" class="ink-button" @click="frameAll(); render()">Show all</button>
    </form>
    <p class="hint quiet">{{ said || 'Drag to turn, wheel to come nearer, right button to move; a double press opens the sheet there.' }}</p>
  </section>
</template>

<style scoped>
.look { position: relative; overflow: hidden; background: var(--paper); min-width: 0; min-height: 0; outline-offset: -3px; }
.look :deep(canvas) { display: block; position: absolute; inset: 0; }
.panel { position: absolute; left: 12px; top: 12px; display: flex; gap: 14px; align-items: center; background: var(--paper-raised); border: 1px solid var(--ink); padding: 4px 10px; font-size: 0.9rem; flex-wrap: wrap; }
.panel label { display: flex; gap: 5px; align-items: center; }
input[type='range'] { width: 90px; accent-color: var(--heather); }
.hint { position: absolute; left: 12px; bottom: 8px; margin: 0; font-size: 0.86rem; background: var(--halo); padding: 0 4px; }
.failed { position: absolute; inset: 30% 15% auto; text-align: center; }
</style>
