/** Plane geometry of the sheet: metres to pixels, snapping, the nearest wall. */
import type { Of, XY } from '@/job/types'

export interface View {
  readonly x: number
  readonly y: number
  readonly k: number
}

export function toScreen(view: View, at: XY): { x: number; y: number } {
  return { x: view.x + at.x_m * view.k, y: view.y + at.y_m * view.k }
}

export function toSheet(view: View, x: number, y: number): XY {
  return { x_m: (x - view.x) / view.k, y_m: (y - view.y) / view.k }
}

export function distance(a: XY, b: XY): number {
  return Math.hypot(a.x_m - b.x_m, a.y_m - b.y_m)
}

export function rounded(at: XY, step = 0.01): XY {
  const digits = Math.round(1 / step)
  return { x_m: Math.round(at.x_m * digits) / digits, y_m: Math.round(at.y_m * digits) / digits }
}

/** The view that shows a box with a margin in a window. */
export function fit(
  box: { x0: number; y0: number; x1: number; y1: number },
  width: number,
  height: number,
  margin = 40,
  foot = margin,
): View {
  const k = Math.min(
    (width - 2 * margin) / Math.max(box.x1 - box.x0, 1),
    (height - margin - foot) / Math.max(box.y1 - box.y0, 1),
  )
  return {
    k,
    x: width / 2 - (k * (box.x0 + box.x1)) / 2,
    y: (height + margin - foot) / 2 - (k * (box.y0 + box.y1)) / 2,
  }
}

/** The end within reach of a place, else null. */
export function nearest(at: XY, places: readonly XY[], reach: number): XY | null {
  let best: XY | null = null
  let least = reach
  for (const place of places) {
    const far = distance(at, place)
    if (far < least) [best, least] = [place, far]
  }
  return best
}

const TURN = Math.PI / 12

interface Line {
  readonly a: XY
  readonly b: XY
}

/** The foot of the perpendicular from a place on a line, kept between its ends. */
export function foot(at: XY, line: Line): XY {
  const dx = line.b.x_m - line.a.x_m
  const dy = line.b.y_m - line.a.y_m
  const t = ((at.x_m - line.a.x_m) * dx + (at.y_m - line.a.y_m) * dy) / (dx * dx + dy * dy || 1)
  const on = Math.min(Math.max(t, 0), 1)
  return { x_m: line.a.x_m + dx * on, y_m: line.a.y_m + dy * on }
}

/** A place snapped: to a wall's end or middle in reach, to the perpendicular on a wall, to the wall, else to 15 degrees. */
export function snapped(at: XY, from: XY | null, ends: readonly XY[], reach: number, walls: readonly Line[] = []): XY {
  const end = nearest(at, ends, reach)
  if (end) return end
  const middle = nearest(
    at,
    walls.map((w) => ({ x_m: (w.a.x_m + w.b.x_m) / 2, y_m: (w.a.y_m + w.b.y_m) / 2 })),
    reach,
  )
  if (middle) return rounded(middle, 0.001)
  const square =
    from &&
    nearest(
      at,
      walls.map((w) => foot(from, w)),
      reach,
    )
  if (square && distance(square, from) > 0.05) return rounded(square, 0.001)
  const on = nearest(
    at,
    walls.map((w) => foot(at, w)),
    reach,
  )
  if (on) return rounded(on, 0.001)
  if (!from) return rounded(at, 0.05)
  const length = distance(from, at)
  const angle = Math.atan2(at.y_m - from.y_m, at.x_m - from.x_m)
  const straight = Math.round(angle / TURN) * TURN
  const near = Math.abs(angle - straight) < 0.06
  return near ? rounded(along(from, straight, length), 0.001) : rounded(at, 0.05)
}

function along(from: XY, angle: number, length: number): XY {
  return { x_m: from.x_m + Math.cos(angle) * length, y_m: from.y_m + Math.sin(angle) * length }
}

/** The end of a line of a typed length in the direction of the pointer. */
export function withLength(from: XY, towards: XY, length: number): XY {
  const angle = distance(from, towards) < 1e-9 ? 0 : Math.atan2(towards.y_m - from.y_m, towards.x_m - from.x_m)
  return rounded(along(from, angle, length), 0.001)
}

/** The nearest wall to a place and how far along it the foot of the perpendicular lies. */
export function wallAt(at: XY, walls: readonly Of<'wall'>[], reach: number): { wall: Of<'wall'>; at_m: number } | null {
  let best: { wall: Of<'wall'>; at_m: number } | null = null
  let least = reach
  for (const wall of walls) {
    const length = distance(wall.a, wall.b)
    const ux = (wall.b.x_m - wall.a.x_m) / length
    const uy = (wall.b.y_m - wall.a.y_m) / length
    const t = Math.min(Math.max((at.x_m - wall.a.x_m) * ux + (at.y_m - wall.a.y_m) * uy, 0), length)
    const far = distance(at, { x_m: wall.a.x_m + ux * t, y_m: wall.a.y_m + uy * t })
    if (far < least) [best, least] = [{ wall, at_m: t }, far]
  }
  return best
}

/** A stretch of a wall between two distances along it. */
export function stretch(wall: { a: XY; b: XY }, from: number, to: number): [XY, XY] {
  const length = distance(wall.a, wall.b) || 1
  const on = (t: number): XY => ({
    x_m: wall.a.x_m + ((wall.b.x_m - wall.a.x_m) * t) / length,
    y_m: wall.a.y_m + ((wall.b.y_m - wall.a.y_m) * t) / length,
  })
  return [on(from), on(to)]
}

export function svgPath(points: readonly XY[], close = false): string {
  return points.map((p, i) => `${i ? 'L' : 'M'}${p.x_m} ${p.y_m}`).join('') + (close ? 'Z' : '')
}
