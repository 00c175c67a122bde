import { createPinia, setActivePinia } from 'pinia'
import { effectScope, type EffectScope } from 'vue'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import type { LibraryAnswer } from '@/api/schema'
import { useKeys } from '@/frame/useKeys'
import type { Element } from '@/job/types'
import { useJob } from '@/job/useJob'
import { useLibrary } from '@/job/useLibrary'
import { useSelection } from '@/job/useSelection'
import { useView } from '@/job/useView'

const tool = (name: string, key: string, stages: string[]) => ({ name, key, stages, label: name, hint: '', sign: name })
const SHELVES = {
  stages: { plan: { name: 'Plan', key: '2' }, air: { name: 'Air', key: '3' } },
  kinds: {
    wall: { noun: 'wall', placed: 'ends', single: false, tools: [tool('wall', 'w', ['plan'])] },
    site: { noun: 'site', placed: 'none', single: true, tools: [] },
    storey: { noun: 'storey', placed: 'none', single: false, tools: [] },
  },
} as unknown as LibraryAnswer
const element = (kind: string, id: string, more: object = {}): Element =>
  ({ kind, id, label: id, order: 1, ...more }) as unknown as Element

let scope: EffectScope
const act = { palette: vi.fn(), keys: vi.fn() }
const press = (key: string, more: KeyboardEventInit = {}, on: EventTarget = document.body): KeyboardEvent => {
  const event = new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true, ...more })
  on.dispatchEvent(event)
  return event
}

beforeEach(() => {
  setActivePinia(createPinia())
  vi.useFakeTimers()
  useLibrary().read = SHELVES
  const all = [
    element('storey', 'ground', { elevation_m: 0 }),
    element('storey', 'first', { elevation_m: 3 }),
    element('wall', 'w1', { storey_id: 'ground' }),
    element('site', 'site'),
  ]
  useJob().elements = new Map(all.map((e) => [e.id, e]))
  scope = effectScope()
  scope.run(() => useKeys(act))
})
afterEach(() => {
  scope.stop()
  document.body.innerHTML = ''
  vi.clearAllMocks()
  vi.useRealTimers()
})

describe('a key', () => {
  it.each([
    ['2', 'plan'],
    ['3', 'air'],
  ])('%s opens the stage that has it', (key, stage) => {
    expect(press(key).defaultPrevented).toBe(true)
    expect(useView().stage).toBe(stage)
  })
  it('of a tool opens a stage that has the tool, and takes it in hand', () => {
    useView().stage = 'air'
    press('w')
    vi.runAllTimers()
    expect([useView().stage, useView().tool]).toEqual(['plan', 'wall'])
  })
  it('goes a storey up and down', () => {
    press(']')
    expect(useView().storey?.id).toBe('first')
    press('[')
    expect(useView().storey?.id).toBe('ground')
  })
  it('that means nothing here is left to the page', () => {
    expect(press('ö').defaultPrevented).toBe(false)
  })
  it('typed into a field is the field’s', () => {
    const field = document.body.appendChild(document.createElement('input'))
    const stage = useView().stage
    press('2', {}, field)
    expect(useView().stage).toBe(stage)
  })
  it('does nothing under a dialog', () => {
    document.body.innerHTML = '<div role="dialog"></div>'
    press('2')
    expect(useView().stage).not.toBe('plan')
  })
  it('opens the palette and the sheet of keys', () => {
    press('k', { ctrlKey: true })
    press('?')
    expect([act.palette.mock.calls.length, act.keys.mock.calls.length]).toEqual([1, 1])
  })
  it('is heard no more once the frame is gone', () => {
    scope.stop()
    press('2')
    expect(useView().stage).not.toBe('plan')
  })
})

describe('Escape', () => {
  it('puts away the tool first, then the open sum, then the selection', () => {
    const [view, selection] = [useView(), useSelection()]
    view.tool = 'wall'
    view.openSum = { label: 'Length', value: 1 } as unknown as typeof view.openSum
    selection.select('w1')
    const seen = [1, 2, 3].map(() => {
      press('Escape')
      return [view.tool, view.openSum !== null, selection.selected]
    })
    expect(seen).toEqual([
      ['select', true, 'w1'],
      ['select', false, 'w1'],
      ['select', false, null],
    ])
  })
})

describe('Delete', () => {
  it('removes what is selected, as an edit that can be undone', () => {
    const edit = vi.spyOn(useJob(), 'edit').mockImplementation(() => undefined)
    useSelection().select('w1')
    press('Delete')
    expect(edit.mock.calls).toEqual([['Remove w1', [{ op: 'remove', id: 'w1' }]]])
    expect(useSelection().selected).toBeNull()
  })
  it('leaves what every job has one of', () => {
    const edit = vi.spyOn(useJob(), 'edit').mockImplementation(() => undefined)
    useSelection().select('site')
    press('Delete')
    expect(edit).not.toHaveBeenCalled()
  })
})

describe('undo and redo', () => {
  it('are keys of the job, but in a field of the field', () => {
    const job = useJob()
    const undo = vi.spyOn(job, 'undo').mockResolvedValue()
    const redo = vi.spyOn(job, 'redo').mockResolvedValue()
    press('z', { ctrlKey: true })
    press('Z', { ctrlKey: true, shiftKey: true })
    press('z', { ctrlKey: true }, document.body.appendChild(document.createElement('textarea')))
    expect([undo.mock.calls.length, redo.mock.calls.length]).toEqual([1, 1])
  })
})
