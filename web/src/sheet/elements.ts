/** Where elements are: storey and place, looked up through what they hang on. */
import { atOf, type Element, type XY } from '@/job/types'

/** The storey an element belongs to; a door through its wall, a run through what it goes to, what stands in a rack through it. */
export function storeyOf(element: Element, elements: ReadonlyMap<string, Element>): string | null {
  if (element.kind === 'storey') return element.id
  if ('storey_id' in element && element.storey_id) return element.storey_id
  if ('from_storey_id' in element) return element.from_storey_id
  if ('place' in element && element.place.where === 'sheet') return element.place.storey_id
  const on = hangsOn(element)
  const next = on ? elements.get(on) : undefined
  return next ? storeyOf(next, elements) : null
}
function hangsOn(element: Element): string | null {
  if ('wall_id' in element) return element.wall_id
  if (element.kind === 'link') return element.b.on
  if (!('place' in element)) return null
  return element.place.where === 'rack'
    ? element.place.rack_id
    : element.place.where === 'line'
      ? element.place.link_id
      : null
}

/** Where an element is on its storey, when it has one place. */
export function placeOf(element: Element): XY | null {
  const at = atOf(element)
  if (at) return at
  if (element.kind === 'wall') return middle(element.a, element.b)
  if ('outline' in element) return centre(element.outline)
  if ('path' in element) return element.path[0] ?? null
  return null
}

export function middle(a: XY, b: XY): XY {
  return { x_m: (a.x_m + b.x_m) / 2, y_m: (a.y_m + b.y_m) / 2 }
}

/** Mean of the corners: where a space's name stands. */
export function centre(outline: readonly XY[]): XY {
  const n = outline.length || 1
  return { x_m: outline.reduce((s, p) => s + p.x_m, 0) / n, y_m: outline.reduce((s, p) => s + p.y_m, 0) / n }
}

/** The box round some places; 40 m of empty sheet when there are none: a house, or the wing of a school. */
export function bounds(points: readonly XY[]): { x0: number; y0: number; x1: number; y1: number } {
  if (!points.length) return { x0: 0, y0: 0, x1: 40, y1: 25 }
  const xs = points.map((p) => p.x_m)
  const ys = points.map((p) => p.y_m)
  return { x0: Math.min(...xs), y0: Math.min(...ys), x1: Math.max(...xs), y1: Math.max(...ys) }
}

/** Everything drawn of a job, as places. */
export function drawn(all: readonly Element[]): XY[] {
  return all.flatMap((element): readonly XY[] => {
    if (element.kind === 'wall') return [element.a, element.b]
    if ('outline' in element) return element.outline
    if ('path' in element) return element.path
    if (element.kind === 'underlay') {
      const scale = element.metres_per_px ?? 0.02
      const far = { x_m: element.x_m + element.width_px * scale, y_m: element.y_m + element.height_px * scale }
      return [{ x_m: element.x_m, y_m: element.y_m }, far]
    }
    const at = atOf(element)
    return at ? [at] : []
  })
}
