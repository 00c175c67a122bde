import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, describe, expect, it } from 'vitest'
import type { Finding } from '@/api/schema'
import type { Assessment } from '@/job/assessment'
import type { Element } from '@/job/types'
import { useAssessment } from '@/job/useAssessment'
import { useJob } from '@/job/useJob'
import { usePointer } from '@/job/usePointer'
import { useSelection } from '@/job/useSelection'
import { useView } from '@/job/useView'

const storey = (id: string, elevation_m: number): Element =>
  ({ kind: 'storey', id, label: id, elevation_m, order: 1 }) as unknown as Element
const point = (id: string, storey_id: string): Element =>
  ({ kind: 'access-point', id, label: id, storey_id, at: { x_m: 1, y_m: 2 }, order: 1 }) as unknown as Element
const finding = (key: string, subject: string, storey_id: string | null = null): Finding =>
  ({
    key,
    stage: 'air',
    severity: 'fault',
    subject_ids: ['not there', subject],
    accepted: null,
    place: storey_id ? { storey_id, at: { x_m: 5, y_m: 6 } } : null,
  }) as unknown as Finding

beforeEach(() => {
  setActivePinia(createPinia())
  const elements = [
    storey('first', 3),
    storey('ground', 0),
    point('a', 'ground'),
    point('b', 'first'),
    point('c', 'first'),
  ]
  useJob().elements = new Map(elements.map((e) => [e.id, e]))
})

describe('the storeys', () => {
  it('stand from below, and the lowest is open first', () => {
    const view = useView()
    expect(view.storeys.map((s) => s.id)).toEqual(['ground', 'first'])
    expect(view.storey?.id).toBe('ground')
  })
  it('are gone up and down by steps, and end where they end', () => {
    const view = useView()
    view.floor(1)
    view.floor(1)
    expect(view.storey?.id).toBe('first')
    view.floor(-1)
    view.floor(-1)
    expect(view.storey?.id).toBe('ground')
  })
})

describe('a selection', () => {
  it('turns the sheet to the storey of what is selected', () => {
    useSelection().select('b')
    expect(useView().storey?.id).toBe('first')
    expect(useSelection().element?.label).toBe('b')
  })
  it('of many grows and shrinks by a press with Shift, and one left is one', () => {
    const selection = useSelection()
    const shift = new MouseEvent('click', { shiftKey: true })
    selection.select('a')
    selection.pick(shift, 'b')
    expect([...selection.many]).toEqual(['a', 'b'])
    expect([selection.selected, selection.isChosen('a')]).toEqual([null, true])
    selection.pick(shift, 'a')
    expect([selection.selected, selection.many.size]).toEqual(['b', 0])
  })
  it('is not made by a press that belongs to a tool in hand', () => {
    const selection = useSelection()
    useView().tool = 'wall'
    selection.pick(new MouseEvent('click'), 'a')
    expect(selection.selected).toBeNull()
  })
  it('of one takes the many away', () => {
    const selection = useSelection()
    selection.pickMany(['a', 'b', 'c'])
    selection.select('c')
    expect([selection.many.size, selection.isChosen('a'), selection.isChosen('c')]).toEqual([0, false, true])
  })
  it('of what is gone is nothing', () => {
    const selection = useSelection()
    selection.select('a')
    useJob().elements = new Map()
    expect(selection.element).toBeUndefined()
  })
})

describe('pointing at findings', () => {
  beforeEach(() => {
    const findings = [
      finding('one', 'a', 'first'),
      finding('two', 'b'),
      { ...finding('three', 'c'), accepted: 'known' },
    ]
    useAssessment().found = { findings } as unknown as Assessment
  })
  it('selects what it is of and shows where it is', () => {
    const pointer = usePointer()
    pointer.visit(finding('one', 'a', 'first'))
    expect([useSelection().selected, useView().storey?.id, useView().goTo]).toEqual(['a', 'first', { x_m: 5, y_m: 6 }])
  })
  it('goes round those that are open, forwards and back', () => {
    const pointer = usePointer()
    const keys = [1, 1, 1, -1].map((by) => {
      pointer.stepFinding(by as 1 | -1)
      return pointer.pointed?.finding.key
    })
    expect(keys).toEqual(['one', 'two', 'one', 'two'])
  })
  it('begins at the last one when it begins backwards', () => {
    const pointer = usePointer()
    pointer.stepFinding(-1)
    expect(pointer.pointed?.finding.key).toBe('two')
  })
  it('stays where it is when there is none', () => {
    useAssessment().found = null
    usePointer().stepFinding(1)
    expect(usePointer().pointed).toBeNull()
  })
})
