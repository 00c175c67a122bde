import { describe, expect, it } from 'vitest'
import { contourLabels, decode, figure, levelAt, LEVELS, tints } from '@/sheet/terrain'

function packed(columns: number, rows: number, level: (x: number, y: number) => number): ArrayBuffer {
  const buffer = new ArrayBuffer(24 + columns * rows * 2)
  const view = new DataView(buffer)
  for (const [i, value] of [-1, -2, 0.5, columns, rows, 0.01].entries()) view.setFloat32(i * 4, value, true)
  for (let y = 0; y < rows; y++)
    for (let x = 0; x < columns; x++) view.setInt16(24 + (y * columns + x) * 2, Math.round(level(x, y) * 100), true)
  return buffer
}

describe('decode', () => {
  const terrain = decode(packed(40, 20, (x) => -90 + x))
  it('brings back origin, cell and levels', () => {
    expect([terrain.x0, terrain.y0, terrain.cell, terrain.columns, terrain.rows]).toEqual([-1, -2, 0.5, 40, 20])
    expect(levelAt(terrain, -1 + 0.5 * 10.5, -2 + 0.6)).toBeCloseTo(-80, 2)
  })
  it('knows nothing off the grid', () => {
    expect(levelAt(terrain, -1.1, 0)).toBeNull()
    expect(levelAt(terrain, 19.1, 0)).toBeNull()
  })
  it('has a contour per level and lies where the level is crossed', () => {
    expect(terrain.contours.map((c) => c.value)).toEqual([...LEVELS])
    const xs = terrain.contours[0]?.coordinates[0]?.[0]?.map(([x = 0]) => x) ?? []
    expect(Math.min(...xs)).toBeGreaterThan(4)
    expect(Math.min(...xs)).toBeLessThan(6)
  })
  it('keeps figures apart and off what is taken', () => {
    const labels = contourLabels(terrain, { x: 0, y: 0, k: 20 }, 60, [{ x: 100, y: 60 }])
    for (const [i, one] of labels.entries())
      for (const other of labels.slice(i + 1)) expect(Math.hypot(one.x - other.x, one.y - other.y)).toBeGreaterThan(60)
  })
})

describe('a layer of its own', () => {
  const terrain = decode(
    packed(30, 10, (x) => x * 3 - 20),
    [-6, 0, 6],
  )
  it('has contours at its levels, and figures with a minus where they need one', () => {
    expect(terrain.contours.map((c) => c.value)).toEqual([-6, 0, 6])
    expect([-6, 0, 6].map(figure)).toEqual(['\u22126', '0', '6'])
  })
  it('keeps a place without a value apart from every level', () => {
    const buffer = packed(4, 4, () => 10)
    new DataView(buffer).setInt16(24, -32768, true)
    const holed = decode(buffer, [0])
    expect(levelAt(holed, -0.9, -1.9)).toBeNaN()
    expect(levelAt(holed, 0.9, -0.1)).toBeCloseTo(10, 2)
  })
})

describe('tints', () => {
  const lightness = (rgb: string): number =>
    (/\d+/g[Symbol.match](rgb) ?? []).map(Number).reduce((s, v, i) => s + v * ([0.21, 0.72, 0.07][i] ?? 0), 0)
  it.each([false, true])('run in a single direction (night: %s)', (night) => {
    const ramp = tints(night).map(lightness)
    const steps = ramp.slice(1).map((value, i) => value - (ramp[i] ?? 0))
    expect(new Set(steps.map(Math.sign)).size).toBe(1)
  })
})
