/** Dragging and nudging what stands at a place: it follows the pointer at once, one edit at the end. */
import { ref, shallowRef, type Ref } from 'vue'
import { atOf, isStanding, movedTo, put, type Of, type Standing } from '@/job/types'
import { useJob } from '@/job/useJob'
import { useSelection } from '@/job/useSelection'
import { useView } from '@/job/useView'
import { rounded, toSheet, type View } from '@/sheet/geometry'

const STILL_PX = 3

export function useDragging(viewport: Ref<View>, onMove: (point: Of<'access-point'> | null) => void) {
  const job = useJob()
  const view = useView()
  const selection = useSelection()
  const held = shallowRef<Standing | null>(null)
  const moved = ref(false)
  let start = { x: 0, y: 0 }

  function grab(event: PointerEvent, element: Standing): void {
    if (event.button !== 0 || view.tool !== 'select') return
    selection.select(element.id)
    held.value = element
    moved.value = false
    start = { x: event.clientX, y: event.clientY }
    if (event.target instanceof Element) event.target.setPointerCapture(event.pointerId)
  }

  function drag(event: PointerEvent): void {
    const element = held.value
    const origin = element ? job.elements.get(element.id) : undefined
    if (!element || !isStanding(origin)) return
    const [dx, dy] = [event.clientX - start.x, event.clientY - start.y]
    if (!moved.value && Math.hypot(dx, dy) < STILL_PX) return
    moved.value = true
    const zero = toSheet(viewport.value, 0, 0)
    const by = toSheet(viewport.value, dx, dy)
    const from = atOf(origin) ?? zero
    held.value = movedTo(element, rounded({ x_m: from.x_m + by.x_m - zero.x_m, y_m: from.y_m + by.y_m - zero.y_m }))
    if (held.value.kind === 'access-point') onMove(held.value)
  }

  function drop(): void {
    const element = held.value
    held.value = null
    if (element && moved.value) job.edit(`Move ${element.label}`, [put(element)])
  }

  function giveUp(): void {
    if (held.value?.kind === 'access-point') onMove(null)
    held.value = null
  }

  /** Arrow keys: 0.1 m, with Shift 1 m. */
  function nudge(dx: number, dy: number): boolean {
    const element = selection.element
    if (!isStanding(element)) return false
    const from = atOf(element) ?? { x_m: 0, y_m: 0 }
    job.edit(`Nudge ${element.label}`, [put(movedTo(element, rounded({ x_m: from.x_m + dx, y_m: from.y_m + dy })))])
    return true
  }
  return { held, grab, drag, drop, giveUp, nudge }
}
