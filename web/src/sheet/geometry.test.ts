import { describe, expect, it } from 'vitest'
import type { Of } from '@/job/types'
import { distance, fit, nearest, snapped, stretch, toScreen, toSheet, wallAt, withLength } from '@/sheet/geometry'

const at = (x_m: number, y_m: number) => ({ x_m, y_m })
const wall = (id: string, a: [number, number], b: [number, number]): Of<'wall'> => ({
  kind: 'wall',
  order: 1,
  id,
  label: id,
  storey_id: 's',
  a: at(...a),
  b: at(...b),
  build_up: null,
  height_m: null,
  thickness_m: null,
  undrilled: false,
  fire_minutes: 0,
})

describe('toScreen and toSheet', () => {
  it('undo each other', () => {
    const view = { x: 12, y: -40, k: 17.5 }
    const there = toScreen(view, at(3.2, 8.1))
    expect(toSheet(view, there.x, there.y).x_m).toBeCloseTo(3.2, 9)
    expect(toSheet(view, there.x, there.y).y_m).toBeCloseTo(8.1, 9)
  })
})

describe('fit', () => {
  it('shows the whole box, centred', () => {
    const view = fit({ x0: 0, y0: 0, x1: 40, y1: 20 }, 880, 640)
    expect(toScreen(view, at(0, 0)).x).toBeGreaterThanOrEqual(40)
    expect(toScreen(view, at(40, 20)).x).toBeLessThanOrEqual(840)
    expect(toScreen(view, at(20, 10))).toEqual({ x: 440, y: 320 })
  })
})

describe('snapped', () => {
  const ends = [at(10, 0)]
  it('takes an end in reach before anything else', () =>
    expect(snapped(at(9.8, 0.1), at(0, 0), ends, 0.5)).toEqual(at(10, 0)))
  it('straightens a nearly level line', () => expect(snapped(at(5, 0.1), at(0, 0), ends, 0.5).y_m).toBe(0))
  it('keeps a line that is clearly slanted', () => expect(snapped(at(5, 2), at(0, 0), ends, 0.5)).toEqual(at(5, 2)))
  it('finds nothing out of reach', () => expect(nearest(at(0, 0), ends, 5)).toBeNull())
})

describe('withLength', () => {
  it("gives exactly the typed length in the pointer's direction", () => {
    const end = withLength(at(1, 1), at(4, 5), 2.5)
    expect(distance(at(1, 1), end)).toBeCloseTo(2.5, 3)
    expect(end).toEqual(at(2.5, 3))
  })
})

describe('wallAt', () => {
  const walls = [wall('north', [0, 0], [10, 0]), wall('east', [10, 0], [10, 6])]
  it('finds the nearest wall and the foot on it', () => {
    expect(wallAt(at(4, 0.3), walls, 1)).toMatchObject({ wall: { id: 'north' }, at_m: 4 })
    expect(wallAt(at(9.8, 3), walls, 1)).toMatchObject({ wall: { id: 'east' }, at_m: 3 })
  })
  it('finds none out of reach', () => expect(wallAt(at(5, 3), walls, 1)).toBeNull())
  it('cuts a stretch', () => {
    const [from, to] = stretch({ a: at(10, 0), b: at(10, 6) }, 1, 2)
    expect([from, to]).toEqual([at(10, 1), at(10, 2)])
  })
})
