/** Pan and zoom of the sheet: wheel at the pointer, drag on empty paper, space or middle button anywhere. */
import { useElementSize, useEventListener } from '@vueuse/core'
import { select } from 'd3-selection'
import { zoom, zoomIdentity, type D3ZoomEvent } from 'd3-zoom'
import { onMounted, ref, shallowRef, watch, type Ref } from 'vue'
import { fit, type View } from '@/sheet/geometry'
import type { XY } from '@/job/types'

/** The tool strip lies over so much of the sheet's left edge while it is not there to be measured. */
const TOOLS_PX = 32

export function useViewport(host: Ref<HTMLElement | null>, drawing: () => boolean) {
  const view = shallowRef<View>({ x: 40, y: 40, k: 16 })
  const { width, height } = useElementSize(host)
  const panning = ref(false)
  const space = ref(false)
  const fitted = ref(false)
  const behaviour = zoom<HTMLElement, unknown>()
    .scaleExtent([1.5, 400])
    .filter((event: Event) => mayPan(event))
    .on('start', (event: D3ZoomEvent<HTMLElement, unknown>) => {
      panning.value = event.sourceEvent instanceof MouseEvent
    })
    .on('zoom', ({ transform, sourceEvent }: D3ZoomEvent<HTMLElement, unknown>) => {
      if (sourceEvent) fitted.value = false
      view.value = { x: transform.x, y: transform.y, k: transform.k }
    })
    .on('end', () => {
      panning.value = false
    })

  function mayPan(event: Event): boolean {
    if (event.type === 'wheel' || event.type.startsWith('touch')) return true
    if (!(event instanceof MouseEvent)) return false
    if (event.type === 'dblclick') return false
    if (event.button === 1 || space.value) return true
    const grip = event.target instanceof Element && event.target.closest('[data-grip]')
    return event.button === 0 && !event.shiftKey && !drawing() && !grip
  }

  function show(next: View): void {
    if (host.value) select(host.value).call(behaviour.transform, zoomIdentity.translate(next.x, next.y).scale(next.k))
  }
  function fitTo(box: { x0: number; y0: number; x1: number; y1: number }): void {
    if (width.value > 0) {
      const tools = (host.value?.querySelector<HTMLElement>('.tools')?.offsetWidth ?? TOOLS_PX) + 2
      const now = fit(box, width.value - tools, height.value, 46, 62)
      show({ ...now, x: now.x + tools })
    }
    fitted.value = true
  }
  /** Whether a place is in sight. */
  function shows(at: XY): boolean {
    const [x, y] = [view.value.x + at.x_m * view.value.k, view.value.y + at.y_m * view.value.k]
    return x >= 0 && y >= 0 && x <= width.value && y <= height.value
  }
  function reveal(at: XY): void {
    const x = view.value.x + at.x_m * view.value.k
    const y = view.value.y + at.y_m * view.value.k
    const clear = x > 60 && y > 60 && x < width.value - 60 && y < height.value - 60
    if (!clear)
      show({ k: view.value.k, x: width.value / 2 - at.x_m * view.value.k, y: height.value / 2 - at.y_m * view.value.k })
  }
  function zoomBy(factor: number): void {
    if (host.value) select(host.value).call(behaviour.scaleBy, factor)
  }

  onMounted(() => {
    if (host.value) select(host.value).call(behaviour).on('dblclick.zoom', null)
  })
  watch(host, (element) => {
    if (element) select(element).call(behaviour).on('dblclick.zoom', null)
  })
  useEventListener('keydown', (event) => {
    if (event.code === 'Space' && event.target === host.value) {
      space.value = true
      event.preventDefault()
    }
  })
  useEventListener('keyup', (event) => {
    if (event.code === 'Space') space.value = false
  })
  return { fitted, view, width, height, panning, show, shows, fitTo, reveal, zoomBy }
}
