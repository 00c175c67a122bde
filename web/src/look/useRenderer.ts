/** The camera round what is shown: drawing it, turning it, cutting it, and which storey a press meets. */
import { useElementSize } from '@vueuse/core'
import {
  AmbientLight,
  Box3,
  DirectionalLight,
  Mesh,
  PerspectiveCamera,
  Plane,
  Raycaster,
  Scene,
  Vector2,
  Vector3,
  WebGLRenderer,
  type Group,
  type Object3D,
} from 'three'
import { OrbitControls } from 'three/examples/jsm/controls/OrbitControls.js'
import { onBeforeUnmount, onMounted, ref, watch, type Ref } from 'vue'
import type { XY } from '@/job/types'

/** Give back what the shapes of an object hold of the graphics card. */
export function dispose(object: Object3D): void {
  object.traverse((part) => {
    if (part instanceof Mesh) part.geometry.dispose()
  })
}

function lit(contents: Group): Scene {
  const scene = new Scene()
  const sun = new DirectionalLight(0xffffff, 1.6)
  sun.position.set(30, 60, 20)
  return scene.add(contents, new AmbientLight(0xffffff, 1.9), sun)
}

/** Draw a group into an element; `cut` is how much of its depth is shown, in percent. `ready` runs once it can be. */
export function useRenderer(
  host: Readonly<Ref<HTMLElement | null>>,
  contents: Group,
  cut: Ref<number>,
  ready: () => void,
) {
  const { width, height } = useElementSize(host)
  const failed = ref('')
  let renderer: WebGLRenderer | undefined
  let controls: OrbitControls | undefined
  const scene = lit(contents)
  const camera = new PerspectiveCamera(42, 1, 0.1, 2000)
  const plane = new Plane(new Vector3(0, 0, -1), 0)

  function frameAll(): void {
    const box = new Box3().setFromObject(contents)
    if (box.isEmpty()) return
    const [middle, size] = [box.getCenter(new Vector3()), box.getSize(new Vector3())]
    const far = Math.max(size.x, size.z, size.y * 1.6) * 1.25
    camera.position.set(middle.x - far * 0.45, middle.y + far * 0.75, middle.z + far * 0.85)
    controls?.target.copy(middle)
    controls?.update()
    render()
  }
  function render(): void {
    if (!renderer) return
    const box = new Box3().setFromObject(contents)
    plane.constant = box.isEmpty() ? 1e6 : box.min.z + ((box.max.z - box.min.z) * cut.value) / 100 + 0.01
    renderer.clippingPlanes = cut.value < 100 ? [plane] : []
    renderer.render(scene, camera)
  }
  function resize(): void {
    if (!renderer || !width.value || !height.value) return
    camera.aspect = width.value / height.value
    camera.updateProjectionMatrix()
    renderer.setSize(width.value, height.value)
    render()
  }
  /** The storey under the pointer, and where on it. */
  function pressed(event: MouseEvent): { storey: string; at: XY } | null {
    const area = host.value?.getBoundingClientRect()
    if (!area) return null
    const x = ((event.clientX - area.left) / area.width) * 2 - 1
    const y = -((event.clientY - area.top) / area.height) * 2 + 1
    const ray = new Raycaster()
    ray.setFromCamera(new Vector2(x, y), camera)
    const hit = ray.intersectObjects(contents.children, true).find((h) => h.object instanceof Mesh)
    const storey = hit?.object.parent?.userData['storey'] as string | undefined
    return hit && storey ? { storey, at: { x_m: hit.point.x, y_m: hit.point.z } } : null
  }
  /** Arrow keys turn and come nearer. */
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
    ready()
    frameAll()
    resize()
  })
  watch([width, height], resize)
  watch(cut, render)
  onBeforeUnmount(() => {
    dispose(contents)
    controls?.dispose()
    renderer?.dispose()
    renderer = undefined
  })
  return { failed, frameAll, render, pressed, keys, lives: () => renderer !== undefined }
}
