import { describe, expect, it } from 'vitest'
import { make, nextLabel } from '@/job/make'
import { placeOf, storeyOf, bounds, drawn } from '@/sheet/elements'
import type { Element } from '@/job/types'

const at = (x_m: number, y_m: number) => ({ x_m, y_m })
const storey = make.storey([], 3)
const wall = make.wall([], storey.id, at(0, 0), at(4, 2), 'brick-102')
const door = make.opening([], wall.id, 1, 'door')
const rack = make.rack([], storey.id, at(1, 1))
const point = make.accessPoint([], storey.id, at(3, 1), 'ap-ceiling-wifi6-2x2', 2.7, false)
const run = make.run([], rack.id, point.id, 'cat6a-indoor')
const switched = make.switch([], rack.id)
const all: Element[] = [storey, wall, door, rack, point, run, switched]
const byId = new Map(all.map((element) => [element.id, element]))

describe('storeyOf', () => {
  it.each([
    ['a storey itself', storey], ['a wall', wall], ['a door through its wall', door], ['a point', point],
    ['a run through what it goes to', run], ['a switch through its rack', switched],
  ])('finds the storey of %s', (_, element) => expect(storeyOf(element, byId)).toBe(storey.id))
  it('knows none for what hangs on nothing', () => expect(storeyOf(door, new Map())).toBeNull())
})

describe('placeOf', () => {
  it('is where a thing stands', () => expect(placeOf(point)).toEqual(at(3, 1)))
  it('is the middle of a wall', () => expect(placeOf(wall)).toEqual(at(2, 1)))
  it('is the mean of a space\'s corners', () => expect(placeOf(make.space([], storey.id, [at(0, 0), at(4, 0), at(4, 2), at(0, 2)]))).toEqual(at(2, 1)))
  it('is nothing for a run', () => expect(placeOf(run)).toBeNull())
})

describe('bounds', () => {
  it('goes round everything drawn', () => expect(bounds(drawn(all))).toEqual({ x0: 0, y0: 0, x1: 4, y1: 2 }))
  it('is a square of paper when nothing is', () => expect(bounds([])).toEqual({ x0: 0, y0: 0, x1: 10, y1: 10 }))
  it('shows a picture that has no scale yet', () => {
    const underlay = make.underlay(storey.id, 'Plan', rack.id, 700, 500)
    expect(bounds(drawn([underlay]))).toEqual({ x0: 0, y0: 0, x1: 14, y1: 10 })
  })
})

describe('nextLabel', () => {
  it('counts on from what is there', () => {
    expect(nextLabel('access-point', all)).toBe('AP 2')
    expect(nextLabel('run', all)).toBe('R-02')
    expect(nextLabel('rack', [])).toBe('TR1')
  })
  it('fills a gap that was left', () => expect(nextLabel('wall', all.filter((e) => e.kind !== 'wall'))).toBe('Wall 1'))
})

describe('make', () => {
  it('gives every element an id of its own', () => {
    expect(new Set(Array.from({ length: 50 }, () => make.storey([], 0).id)).size).toBe(50)
  })
  it('hangs an outdoor unit outdoors', () => expect(make.accessPoint([], storey.id, at(0, 0), 'x', 3, true).mount).toBe('outdoor'))
})
