/** Shift and drag: a box that selects everything of the storey inside it. */
import { computed, shallowRef } from 'vue'
import { useJob } from '@/job/useJob'
import { useSelection } from '@/job/useSelection'
import { useView } from '@/job/useView'
import type { Element, XY } from '@/job/types'
import { placeOf, storeyOf } from '@/sheet/elements'

const UNPICKED = new Set<Element['kind']>(['site', 'brief', 'practice', 'storey', 'underlay', 'acceptance'])

/** The elements whose place lies in a box. */
export function inBox(
  all: readonly Element[],
  byId: ReadonlyMap<string, Element>,
  storey: string,
  a: XY,
  b: XY,
): string[] {
  const [x0, x1] = [Math.min(a.x_m, b.x_m), Math.max(a.x_m, b.x_m)]
  const [y0, y1] = [Math.min(a.y_m, b.y_m), Math.max(a.y_m, b.y_m)]
  return all.flatMap((element) => {
    const at = UNPICKED.has(element.kind) ? null : placeOf(element)
    const inside = at && at.x_m >= x0 && at.x_m <= x1 && at.y_m >= y0 && at.y_m <= y1
    return inside && storeyOf(element, byId) === storey ? [element.id] : []
  })
}

export function useBox(where: (event: MouseEvent) => XY) {
  const job = useJob()
  const view = useView()
  const selection = useSelection()
  const ends = shallowRef<readonly [XY, XY] | null>(null)
  const box = computed(() => {
    if (!ends.value) return null
    const [a, b] = ends.value
    return {
      x: Math.min(a.x_m, b.x_m),
      y: Math.min(a.y_m, b.y_m),
      width: Math.abs(a.x_m - b.x_m),
      height: Math.abs(a.y_m - b.y_m),
    }
  })
  function begin(event: PointerEvent): void {
    if (!event.shiftKey || event.button !== 0 || view.tool !== 'select') return
    ends.value = [where(event), where(event)]
  }
  function move(event: PointerEvent): void {
    if (ends.value) ends.value = [ends.value[0], where(event)]
  }
  function end(): void {
    const now = box.value
    const pair = ends.value
    ends.value = null
    if (!pair || !now || !view.storey || now.width + now.height < 0.2) return
    selection.pickMany(inBox(job.all, job.elements, view.storey.id, ...pair))
  }
  return { box, begin, move, end }
}
