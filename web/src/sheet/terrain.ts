/** Signal as terrain: decoding the server's grid, its tints, and contours in sheet metres. */
import { contours, type ContourMultiPolygon } from 'd3-contour'
import { interpolateLab } from 'd3-interpolate'

export interface Terrain {
  readonly x0: number
  readonly y0: number
  readonly cell: number
  readonly columns: number
  readonly rows: number
  readonly dbm: Float32Array
  readonly levels: readonly number[]
  readonly contours: readonly ContourMultiPolygon[]
  /** Where there is a value at all; null for everywhere. */
  readonly known: ContourMultiPolygon | null
}

export const LEVELS: readonly number[] = [-85, -80, -75, -70, -65, -60, -55, -50, -45, -40]
const HEADER_BYTES = 24
const NO_VALUE = -32768
const NOTHING = -1e6

/** The server's answer: six little-endian floats, then 16-bit integers, each a value over the step. */
export function decode(buffer: ArrayBuffer, levels: readonly number[] = LEVELS, smooth = true): Terrain {
  const head = new DataView(buffer, 0, HEADER_BYTES)
  const [x0, y0, cell, columns, rows, step] = [0, 4, 8, 12, 16, 20].map((at) => head.getFloat32(at, true)) as [
    number,
    number,
    number,
    number,
    number,
    number,
  ]
  const raw = new Int16Array(buffer, HEADER_BYTES)
  const dbm = Float32Array.from(raw, (value) => (value === NO_VALUE ? NaN : value * step))
  const values = [...dbm].map((value) => (Number.isNaN(value) ? NOTHING : value))
  const shape = contours().smooth(smooth).size([columns, rows])
  const known = dbm.some(Number.isNaN) ? shape.contour(values, NOTHING / 10) : null
  return { x0, y0, cell, columns, rows, dbm, levels, known, contours: shape.thresholds([...levels])(values) }
}

/** A single-direction ramp, even in lightness: pale sedge is weak, deep heather strong. */
export function tints(night: boolean, levels: readonly number[] = LEVELS): string[] {
  const ramp = night ? interpolateLab('#1a2320', '#79548a') : interpolateLab('#f4efdd', '#9a6fac')
  return Array.from({ length: levels.length + 1 }, (_, i) => ramp(levels.length ? i / levels.length : 0))
}

/** A level as it stands on a contour. */
export function figure(level: number): string {
  return level < 0 ? `\u2212${-level}` : String(level)
}

/** The signal at a place, or null off the grid. */
export function levelAt(terrain: Terrain, x: number, y: number): number | null {
  const column = Math.floor((x - terrain.x0) / terrain.cell)
  const row = Math.floor((y - terrain.y0) / terrain.cell)
  const inside = column >= 0 && row >= 0 && column < terrain.columns && row < terrain.rows
  return inside ? (terrain.dbm[row * terrain.columns + column] ?? null) : null
}

/** A contour as a path in grid cells. */
export function contourPath(contour: ContourMultiPolygon): Path2D {
  const path = new Path2D()
  for (const polygon of contour.coordinates) {
    for (const ring of polygon) {
      ring.forEach(([x = 0, y = 0], i) => (i ? path.lineTo(x, y) : path.moveTo(x, y)))
      path.closePath()
    }
  }
  return path
}

export interface ContourLabel {
  readonly x: number
  readonly y: number
  readonly angle: number
  readonly level: number
}

/** Places for the contours' figures: along each line, apart from each other and from `taken`. In pixels. */
export function contourLabels(
  terrain: Terrain,
  view: { x: number; y: number; k: number },
  apart: number,
  taken: readonly { x: number; y: number }[] = [],
  cared: (x: number, y: number) => boolean = () => true,
): ContourLabel[] {
  const found: ContourLabel[] = []
  const clear = (x: number, y: number): boolean =>
    found.every((label) => Math.hypot(label.x - x, label.y - y) > apart) &&
    taken.every((t) => Math.abs(t.x - x) > 42 || Math.abs(t.y - y) > 22)
  for (const contour of terrain.contours) {
    for (const [ring] of contour.coordinates) {
      if (!ring || ring.length < 24) continue
      for (let i = 6; i < ring.length - 6; i += 6) {
        const [gx = 0, gy = 0] = ring[i] ?? []
        const edge = gx < 2 || gy < 2 || gx > terrain.columns - 2 || gy > terrain.rows - 2
        const x = view.x + (terrain.x0 + gx * terrain.cell) * view.k
        const y = view.y + (terrain.y0 + gy * terrain.cell) * view.k
        if (edge || !clear(x, y) || !cared(x, y)) continue
        const [ax = 0, ay = 0] = ring[i - 3] ?? []
        const [bx = 0, by = 0] = ring[i + 3] ?? []
        let angle = Math.atan2(by - ay, bx - ax)
        if (angle > Math.PI / 2) angle -= Math.PI
        if (angle < -Math.PI / 2) angle += Math.PI
        found.push({ x, y, angle, level: contour.value })
      }
    }
  }
  return found
}
