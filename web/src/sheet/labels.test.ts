import { describe, expect, it } from 'vitest'
import { placeLabels, textBox, type Box } from '@/sheet/labels'

const one = (id: string, x: number, y: number) => ({ id, x, y, lines: ['Corridor', '36·40'] })

function boxOf(label: ReturnType<typeof one>, all: ReturnType<typeof placeLabels>): Box {
  const place = all.get(label.id)
  if (!place) throw new Error('not placed')
  return textBox(label.x + place.dx, label.y + place.dy, label.lines, place.anchor)
}
const apart = (a: Box, b: Box) => a.x1 <= b.x0 || b.x1 <= a.x0 || a.y1 <= b.y0 || b.y1 <= a.y0

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
