import { describe, expect, it } from 'vitest'
import { fitted, placeLabels, textBox, wallsInto, type Box } from '@/sheet/labels'

const one = (id: string, x: number, y: number) => ({ id, x, y, lines: ['Corridor', '36·40'] })

function boxOf(label: ReturnType<typeof one>, all: ReturnType<typeof placeLabels>): Box {
  const place = all.get(label.id)
  if (!place) throw new Error('not placed')
  return textBox(label.x + place.dx, label.y + place.dy, label.lines, place.anchor)
}
const apart = (a: Box, b: Box) => a.x1 <= b.x0 || b.x1 <= a.x0 || a.y1 <= b.y0 || b.y1 <= a.y0

describe('fitting a name to its room', () => {
  it('breaks between words and keeps the number that tells two rooms apart', () => {
    expect(fitted('Classroom 0.07', 65, 2)).toEqual(['Classroom', '0.07'])
  })
  it('stays on one line where it fits, or where only one is to be had', () => {
    expect(fitted('Foyer east', 120, 2)).toEqual(['Foyer east'])
    expect(fitted('Classroom 0.07', 65, 1)).toEqual(['Classroom 0…'])
  })
  it('says nothing in a room too narrow for four letters', () => {
    expect(fitted('Store', 20, 2)).toEqual([])
  })
  it('never writes a line wider than the room', () => {
    for (let width = 22; width < 200; width += 7)
      for (const line of fitted('Music technology and recording', width, 2))
        expect(line.length * 5.4).toBeLessThanOrEqual(width)
  })
})

describe('keeping names off thick walls', () => {
  const box = { x0: 0, y0: 0, x1: 6, y1: 4 }
  const wall = (x1: number, y1: number, x2: number, y2: number, thickness_m: number | null) => ({
    a: { x_m: x1, y_m: y1 },
    b: { x_m: x2, y_m: y2 },
    thickness_m,
  })
  it('goes half a wall in from the walls along its left and upper edge', () => {
    expect(wallsInto(box, [wall(0, -1, 0, 9, 0.6), wall(0, 0, 12, 0, 0.4), wall(6, 0, 6, 4, 2)])).toEqual({
      x: 0.3,
      y: 0.2,
    })
  })
  it('leaves out walls elsewhere, walls across, and walls of no known thickness', () => {
    const others = [wall(3, 0, 3, 4, 1), wall(0, 5, 0, 9, 1), wall(0, 0, 6, 4, 1), wall(0, 0, 0, 4, null)]
    expect(wallsInto(box, others)).toEqual({ x: 0, y: 0 })
  })
})

describe('placing labels', () => {
  it('writes below a symbol that stands alone', () => {
    expect(placeLabels([one('a', 100, 100)], []).get('a')?.dy).toBe(20)
  })

  it('keeps off the name of a space that stands below', () => {
    const space = textBox(80, 125, ['Recovery', '✓ 100%'])
    const label = one('a', 100, 100)
    expect(apart(boxOf(label, placeLabels([label], [space])), space)).toBe(true)
  })

  it('keeps two names beside each other apart', () => {
    const [a, b] = [one('a', 100, 100), one('b', 130, 100)]
    const all = placeLabels([a, b], [])
    expect(apart(boxOf(a, all), boxOf(b, all))).toBe(true)
  })

  it('still writes every name where nothing is free', () => {
    const wall = { x0: -1000, y0: -1000, x1: 1000, y1: 1000 }
    expect(placeLabels([one('a', 0, 0)], [wall]).get('a')?.dy).toBe(20)
  })
})
