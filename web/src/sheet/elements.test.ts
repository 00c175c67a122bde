import { describe, expect, it } from 'vitest'
import kinds from '@/api/kinds.json'
import type { KindShown } from '@/api/schema'
import { madeOf, nextLabel } from '@/job/make'
import { movedTo, type Element, type Kind, type Of } from '@/job/types'
import { placeOf, storeyOf, bounds, drawn } from '@/sheet/elements'

const about = (kind: Kind): KindShown => kinds[kind] as unknown as KindShown
const make = <K extends Kind>(kind: K, given: Partial<Of<K>>): Of<K> => madeOf(kind, about(kind), [], given)
const at = (x_m: number, y_m: number) => ({ x_m, y_m })
const storey = make('storey', { elevation_m: 3 })
const on = { storey_id: storey.id }
const wall = make('wall', { ...on, a: at(0, 0), b: at(4, 2), build_up: 'brick-102' })
const door = make('opening', { wall_id: wall.id, at_m: 1 })
const rack = make('rack', { ...on, at: at(1, 1) })
const point = make('access-point', { ...on, at: at(3, 1), model: 'ap-ceiling-wifi6-2x2' })
const outlet = make('equipment', {
  model: 'outlet-data',
  place: { where: 'sheet', ...on, at: at(2, 2), height_m: 0.4, mount: null },
})
const switched = make('equipment', {
  model: 'switch-8-poe',
  place: { where: 'rack', rack_id: rack.id, unit: null, face: 'front' },
})
const run = make('link', { a: { on: rack.id, port: null, panel: null }, b: { on: point.id, port: null, panel: null } })
const feed = make('equipment', { model: 'injector-30', place: { where: 'line', link_id: run.id, at_m: null } })
const all: Element[] = [storey, wall, door, rack, point, outlet, run, switched, feed]
const byId = new Map(all.map((element) => [element.id, element]))

describe('storeyOf', () => {
  it.each([
    ['a storey itself', storey],
    ['a wall', wall],
    ['a door through its wall', door],
    ['a point', point],
    ['a run through what it goes to', run],
    ['a switch through its rack', switched],
    ['an outlet', outlet],
    ['an injector through its run', feed],
  ])('finds the storey of %s', (_, element) => expect(storeyOf(element, byId)).toBe(storey.id))
  it('knows none for what hangs on nothing', () => expect(storeyOf(door, new Map())).toBeNull())
})

describe('placeOf', () => {
  it('is where a thing stands', () => expect(placeOf(point)).toEqual(at(3, 1)))
  it('is the middle of a wall', () => expect(placeOf(wall)).toEqual(at(2, 1)))
  it("is the mean of a space's corners", () =>
    expect(placeOf(make('space', { ...on, outline: [at(0, 0), at(4, 0), at(4, 2), at(0, 2)] }))).toEqual(at(2, 1)))
  it('is where an outlet hangs, and follows it', () => {
    expect(placeOf(outlet)).toEqual(at(2, 2))
    expect(placeOf(movedTo(outlet, at(5, 1)))).toEqual(at(5, 1))
  })
  it('is nothing for what stands in a rack', () => expect(placeOf(switched)).toBeNull())
  it('is nothing for a run', () => expect(placeOf(run)).toBeNull())
})

describe('bounds', () => {
  it('goes round everything drawn', () => expect(bounds(drawn(all))).toEqual({ x0: 0, y0: 0, x1: 4, y1: 2 }))
  it('is 40 m of paper when nothing is', () => expect(bounds([])).toEqual({ x0: 0, y0: 0, x1: 40, y1: 25 }))
  it('shows a picture that has no scale yet', () => {
    const underlay = make('underlay', { ...on, attachment_id: rack.id, width_px: 700, height_px: 500 })
    expect(bounds(drawn([underlay]))).toEqual({ x0: 0, y0: 0, x1: 14, y1: 10 })
  })
})

describe('nextLabel', () => {
  const named: Element[] = [
    { ...point, label: 'AP 1' },
    { ...run, label: 'R-01' },
    { ...wall, label: 'Wall 2' },
  ]
  it('counts on from what is there, as the kind is called', () => {
    expect(nextLabel(about('access-point'), named)).toBe('AP 2')
    expect(nextLabel(about('link'), named)).toBe('R-02')
    expect(nextLabel(about('rack'), [])).toBe('TR1')
  })
  it('fills a gap that was left', () => expect(nextLabel(about('wall'), named)).toBe('Wall 1'))
  it('takes another word where one is given', () =>
    expect(nextLabel(about('fixture'), named, 'Luminaire')).toBe('Luminaire 1'))
})

describe('madeOf', () => {
  it('gives every element an id of its own', () => {
    expect(new Set(Array.from({ length: 50 }, () => make('storey', { elevation_m: 0 }).id)).size).toBe(50)
  })
  it('starts it as the library says', () =>
    expect(make('storey', { elevation_m: 0 })).toMatchObject({ ceiling_m: 2.7, storey_kind: 'floor', order: 0 }))
})
