import { beforeEach, describe, expect, it } from 'vitest'
import { applied, readWaiting, rebased, storageKey, writeWaiting, type Waiting } from '@/job/queue'
import type { Element } from '@/job/types'
import { put, remove } from '@/job/types'

const storey = (id: string, label: string): Element => ({
  kind: 'storey',
  order: 1,
  storey_kind: 'floor',
  id,
  label,
  elevation_m: 0,
  ceiling_m: 2.7,
  void_m: 0.3,
  slab_build_up: 'timber-floor',
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

const edit = (editId: string, id: string, baseRevision = 3): Waiting => ({
  editId,
  label: 'x',
  baseRevision,
  operations: [remove(id)],
})

describe('edits that wait', () => {
  beforeEach(() => localStorage.clear())
  it('come back in the order they were made', () => {
    writeWaiting(localStorage, 'job', [], [edit('2', 'b'), edit('1', 'a')])
    expect(readWaiting(localStorage, 'job')).toEqual([edit('1', 'a'), edit('2', 'b')])
    expect(readWaiting(localStorage, 'other')).toEqual([])
  })
  it('of two windows of one browser leave each other alone', () => {
    writeWaiting(localStorage, 'job', [], [edit('1', 'a')])
    writeWaiting(localStorage, 'job', [], [edit('2', 'b')])
    writeWaiting(localStorage, 'job', [edit('2', 'b')], [])
    expect(readWaiting(localStorage, 'job')).toEqual([edit('1', 'a')])
  })
  it.each(['', '{', '3', 'null', '{"editId":"x"}'])('ignore %s', (text) => {
    localStorage.setItem(storageKey('job', 'x'), text)
    expect(readWaiting(localStorage, 'job')).toEqual([])
  })
})

describe('rebased', () => {
  const bases = (later: string, answered: string[]): number[] =>
    rebased([edit('2', later)], [remove('a')], answered.map(remove), 7).map((e) => e.baseRevision)
  it('stands on the revision of the edit before it', () => expect(bases('a', ['a'])).toEqual([7]))
  it('is carried over what others did elsewhere', () => expect(bases('b', ['c', 'a'])).toEqual([7]))
  it('keeps its base where somebody else changed the same element', () => expect(bases('b', ['b', 'a'])).toEqual([3]))
})
