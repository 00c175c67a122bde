import { describe, expect, it } from 'vitest'
import { applied, inOrder, laidOver, seenBefore, type Waiting } from '@/job/queue'
import { put, remove, type Element } from '@/job/types'

const element = (id: string, label = id): Element => ({ kind: 'brief', id, label }) as unknown as Element
const edit = (editId: string, ...operations: Waiting['operations']): Waiting => ({
  editId,
  jobId: 'job',
  jobName: 'Mill',
  actor: 'me',
  window: 'w',
  way: 'edit',
  label: 'Test',
  baseRevision: 1,
  operations,
  seen: [],
  absent: [],
  choices: [],
})
const kept = new Map([element('a'), element('b')].map((one) => [one.id, one]))

describe('what the person sees', () => {
  it('is what is kept with what waits laid over it, in order', () => {
    const shown = laidOver(kept, [edit('1', put(element('a', 'new'))), edit('2', remove('b'), put(element('c')))])
    expect([...shown.values()].map((one) => one.label)).toEqual(['new', 'c'])
    expect(kept.get('a')?.label).toBe('a')
  })
  it('is just what is kept when nothing waits', () => {
    expect(laidOver(kept, [])).toBe(kept)
  })
})

it('what an edit saw is what stood there before it, each once', () => {
  const operations = [put(element('a', 'new')), put(element('a', 'newer')), remove('b'), put(element('c'))]
  expect(seenBefore(kept, operations)).toEqual({ seen: [element('a'), element('b')], absent: ['c'] })
  expect(applied(kept, operations).get('a')?.label).toBe('newer')
})

it('edits go in the order they were made', () => {
  expect(inOrder([edit('3'), edit('1'), edit('2')]).map((one) => one.editId)).toEqual(['1', '2', '3'])
})
