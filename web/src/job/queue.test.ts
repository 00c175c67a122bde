import { describe, expect, it } from 'vitest'
import { applied, readWaiting } from '@/job/queue'
import type { Element } from '@/job/types'
import { put, remove } from '@/job/types'

const storey = (id: string, label: string): Element => ({
  kind: 'storey', id, label, elevation_m: 0, ceiling_m: 2.7, void_m: 0.3, slab_build_up: 'timber-floor',
})

describe('applied', () => {
  it('adds, replaces and removes, and leaves what it was given', () => {
    const before = new Map([['a', storey('a', 'Ground')]])
    const after = applied(before, [put(storey('a', 'Cellar')), put(storey('b', 'First'))])
    expect([...after.values()].map((e) => e.label)).toEqual(['Cellar', 'First'])
    expect(applied(after, [remove('a')]).has('a')).toBe(false)
    expect(before.get('a')?.label).toBe('Ground')
  })
})

describe('readWaiting', () => {
  it('brings back what was written', () => {
    const waiting = [{ editId: 'e', label: 'Move', baseRevision: 3, operations: [remove('a')] }]
    expect(readWaiting(JSON.stringify(waiting))).toEqual(waiting)
  })
  it.each([null, '', '{', '3', '[{"editId":"x"}]'])('ignores %s', (text) => {
    expect(readWaiting(text)).toEqual([])
  })
})
