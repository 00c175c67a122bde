import { describe, expect, it } from 'vitest'
import { valueAt, withValue } from '@/margin/fields'

describe('withValue', () => {
  const body = { label: 'Practice row', at: { x_m: 21, y_m: 9 } }
  it('replaces deep values in a copy', () => {
    const next = withValue(body, 'at.x_m', 22.5)
    expect(next).toEqual({ label: 'Practice row', at: { x_m: 22.5, y_m: 9 } })
    expect(body.at.x_m).toBe(21)
  })
  it('replaces one of many', () => {
    expect(withValue({ ports: [{ count: 1 }, { count: 2 }] }, 'ports.1.count', 24)).toEqual({
      ports: [{ count: 1 }, { count: 24 }],
    })
  })
  it('makes what is missing on the way', () => expect(withValue({}, 'a.b', 1)).toEqual({ a: { b: 1 } }))
  it('reads back what it wrote', () => expect(valueAt(withValue(body, 'label', 'Foyer'), 'label')).toBe('Foyer'))
  it('reads nothing where there is nothing', () => expect(valueAt(body, 'at.z.q')).toBeUndefined())
})
