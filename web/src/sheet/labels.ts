/** Where the names of symbols go, so that they run over neither the names of spaces nor each other. In pixels, unless
 *  said otherwise. */
import type { XY } from '@/job/types'

export interface Box {
  readonly x0: number
  readonly y0: number
  readonly x1: number
  readonly y1: number
}
export interface Thick {
  readonly a: XY
  readonly b: XY
  readonly thickness_m?: number | null | undefined
}
export interface Labelled {
  readonly id: string
  readonly x: number
  readonly y: number
  readonly lines: readonly string[]
}
export interface Placed {
  readonly anchor: 'start' | 'middle' | 'end'
  readonly dx: number
  readonly dy: number
}

const LETTER_PX = 6.3
/** Names of spaces are set smaller. */
const NAME_LETTER_PX = 5.4
const FEWEST_LETTERS = 4
/** A wall this near an edge lies along it. */
const ALONG_M = 0.15
const LINE_PX = 11
const SYMBOL_PX = 11
const ASIDE_PX = 14
/** Below first, as people expect it; the sides before above, where the space's own name often is. */
const PLACES: readonly Placed[] = [
  { anchor: 'middle', dx: 0, dy: 20 },
  { anchor: 'start', dx: ASIDE_PX, dy: 0 },
  { anchor: 'end', dx: -ASIDE_PX, dy: 0 },
  { anchor: 'middle', dx: 0, dy: -26 },
]

function overlaps(a: Box, b: Box): boolean {
  return a.x0 < b.x1 && b.x0 < a.x1 && a.y0 < b.y1 && b.y0 < a.y1
}

/** The box some lines of text take at a place. */
export function textBox(x: number, y: number, lines: readonly string[], anchor: Placed['anchor'] = 'start'): Box {
  const width = Math.max(...lines.map((line) => line.length)) * LETTER_PX
  const x0 = anchor === 'start' ? x : anchor === 'end' ? x - width : x - width / 2
  return { x0, y0: y - LINE_PX + 2, x1: x0 + width, y1: y + (lines.length - 1) * LINE_PX + 2 }
}

/** A name in at most so many lines of a width, broken between words; what does not fit ends in an ellipsis. */
export function fitted(name: string, width: number, most: number): string[] {
  const letters = Math.max(0, Math.floor(width / NAME_LETTER_PX))
  if (letters < FEWEST_LETTERS) return []
  const lines: string[] = []
  for (const word of name.split(' ')) {
    const last = lines.at(-1)
    const longer = last === undefined ? word : `${last} ${word}`
    if (last === undefined || (longer.length > letters && lines.length < most)) lines.push(word)
    else lines[lines.length - 1] = longer
  }
  return lines.map((line) => (line.length <= letters ? line : `${line.slice(0, letters - 1)}…`))
}

/** How far walls reach into a box from its left and its upper edge: half of the thickest that lies along each. */
export function wallsInto(box: Box, walls: readonly Thick[]): { x: number; y: number } {
  const into = { x: 0, y: 0 }
  for (const { a, b, thickness_m } of walls) {
    const half = (thickness_m ?? 0) / 2
    const near = (value: number, edge: number) => Math.abs(value - edge) <= ALONG_M
    const meets = (from: number, to: number, low: number, high: number) =>
      Math.min(from, to) < high && Math.max(from, to) > low
    if (near(a.x_m, box.x0) && near(b.x_m, box.x0) && meets(a.y_m, b.y_m, box.y0, box.y1))
      into.x = Math.max(into.x, half)
    if (near(a.y_m, box.y0) && near(b.y_m, box.y0) && meets(a.x_m, b.x_m, box.x0, box.x1))
      into.y = Math.max(into.y, half)
  }
  return into
}

/** A place for each label: the first of the usual places that is free, else below. */
export function placeLabels(labels: readonly Labelled[], taken: readonly Box[]): Map<string, Placed> {
  const symbols = labels.map((l) => ({
    x0: l.x - SYMBOL_PX,
    y0: l.y - SYMBOL_PX,
    x1: l.x + SYMBOL_PX,
    y1: l.y + SYMBOL_PX,
  }))
  const full: Box[] = [...taken, ...symbols]
  const placed = new Map<string, Placed>()
  for (const label of labels) {
    const boxes = PLACES.map((place) => textBox(label.x + place.dx, label.y + place.dy, label.lines, place.anchor))
    const free = boxes.findIndex((box) => !full.some((other) => overlaps(box, other)))
    const chosen = free < 0 ? 0 : free
    placed.set(label.id, PLACES[chosen] as Placed)
    full.push(boxes[chosen] as Box)
  }
  return placed
}
