import { describe, expect, it } from 'vitest'
import type { AssessmentAnswer } from '@/api/schema'
import { shown, taken } from './assessment'

type Changes = AssessmentAnswer['tables']
const changes = (tables: Record<string, { rows: Record<string, unknown>; order: string[] | null } | null>) =>
  tables as unknown as Changes
const first = changes({
  runs: { rows: { a: { label: 'R-01' }, b: { label: 'R-02' } }, order: ['a', 'b'] },
  kit: { rows: { k: { label: 'Rack' } }, order: ['k'] },
  cost_sum: { rows: { '': { value: 10 } }, order: [''] },
})

describe('an answer with changes', () => {
  const before = taken({}, first)

  it('is taken in row by row, in the order it had', () => {
    const after = shown(
      taken(before, changes({ runs: { rows: { b: { label: 'Renamed' } }, order: null } })),
      before,
      null,
    )
    expect(after.runs).toEqual([{ label: 'R-01' }, { label: 'Renamed' }])
  })

  it('drops rows that went and puts new ones where they belong', () => {
    const after = shown(
      taken(before, changes({ runs: { rows: { c: { label: 'R-03' } }, order: ['c', 'b'] } })),
      before,
      null,
    )
    expect(after.runs).toEqual([{ label: 'R-03' }, { label: 'R-02' }])
  })

  it('keeps the very array of a table without a change, so that nothing is drawn anew', () => {
    const last = shown(before, {}, null)
    const next = taken(before, changes({ runs: { rows: {}, order: ['a'] }, kit: null }))
    const after = shown(next, before, last)
    expect(after.kit).toBe(last.kit)
    expect(after.runs).toEqual([{ label: 'R-01' }])
  })

  it('has one row where a table has just one', () => {
    expect(shown(before, {}, null).cost_sum).toEqual({ value: 10 })
  })

  it('keeps the very row that came again and says the same', () => {
    const next = taken(
      before,
      changes({ runs: { rows: { a: { label: 'R-01' }, b: { label: 'New' } }, order: ['a', 'b'] } }),
    )
    expect(next['runs']?.rows.get('a')).toBe(before['runs']?.rows.get('a'))
    expect(next['runs']?.rows.get('b')).toEqual({ label: 'New' })
  })

  it('told twice is taken in once', () => {
    const change = changes({ runs: { rows: { b: { label: 'New' } }, order: null } })
    const once = taken(before, change)
    expect(taken(once, change)['runs']).toBe(once['runs'])
  })

  it('moves rows that only changed places', () => {
    const next = taken(before, changes({ runs: { rows: {}, order: ['b', 'a'] } }))
    expect([...(next['runs']?.rows.keys() ?? [])]).toEqual(['b', 'a'])
  })
})
