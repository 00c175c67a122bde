import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import type { LibraryAnswer } from '@/api/schema'
import type { Assessment } from '@/job/assessment'
import type { Element, Of, Operation } from '@/job/types'
import { useAssessment } from '@/job/useAssessment'
import { useJob } from '@/job/useJob'
import { useLibrary } from '@/job/useLibrary'
import { useOwnModels } from '@/stages/useOwnModels'

const model = (label: string, more: object = {}) => ({ label, price: 100, max_w: 10, can: ['joins'], ...more })
const SHELVES = {
  kinds: { model: { noun: 'own model', stem: 'Model', gap: ' ', digits: 1, starts: { reason: '' } } },
  equipment: {
    'switch-8': model('Switch, 8', { ports: [{ count: 8, speed_mbps: 1000 }, { count: 2 }] }),
    'ap-2x2': model('Ceiling AP', { can: ['radiates'] }),
  },
  build_ups: { 'brick-102': { label: 'Brick', loss_5_db: 9 } },
  patterns: { disc: { label: 'disc' } },
} as unknown as LibraryAnswer
const element = (kind: string, id: string, more: object): Element =>
  ({ kind, id, label: id, order: 1, ...more }) as unknown as Element
const own = (code: string, label: string): Element =>
  element('model', `own ${code}`, { code, model: { label, price: 55 }, label })

let made: Operation[]
function open(...elements: Element[]) {
  const job = useJob()
  job.elements = new Map(elements.map((e) => [e.id, e]))
  made = []
  vi.spyOn(job, 'edit').mockImplementation((_label, operations) => {
    made.push(...operations)
  })
  return useOwnModels()
}
/** The model that the last edit put. */
function put(): Of<'model'> {
  const last = made.at(-1)
  if (last?.op !== 'put' || last.element.kind !== 'model') throw new Error('no model was put')
  return last.element
}

beforeEach(() => {
  setActivePinia(createPinia())
  useLibrary().read = SHELVES
})

describe('models of a job', () => {
  it('are those in use, with its own first', () => {
    const { rows } = open(
      element('equipment', 'sw', { model: 'switch-8' }),
      element('access-point', 'a', { model: 'ap-2x2' }),
      own('own-model-1', 'Mine'),
    )
    expect(rows.value.map(({ code, own: is, fresh }) => [code, is, fresh])).toEqual([
      ['own-model-1', true, true],
      ['ap-2x2', false, false],
      ['switch-8', false, false],
    ])
  })
  it('show own figures where the job has them, and know that there is something to go back to', () => {
    const { rows } = open(element('equipment', 'sw', { model: 'switch-8' }), own('switch-8', 'Cheaper'))
    expect(rows.value).toHaveLength(1)
    expect(rows.value[0]).toMatchObject({ own: true, fresh: false, model: { price: 55 } })
  })
})

describe('a figure', () => {
  it('is set by its path, and the rest of the model stays', () => {
    const { rows, set } = open(element('equipment', 'sw', { model: 'switch-8' }))
    const row = rows.value[0]
    if (!row) throw new Error('no row')
    set(row, 'ports.0.count', 48)
    expect(put()).toMatchObject({ kind: 'model', code: 'switch-8', model: { price: 100 } })
    expect(put().model.ports).toEqual([{ count: 48, speed_mbps: 1000 }, { count: 2 }])
    expect(put().model).not.toHaveProperty('can')
  })
  it('of an own model changes that one, and its name both places it stands', () => {
    const { rows, set } = open(own('own-model-1', 'Mine'))
    const row = rows.value[0]
    if (!row) throw new Error('no row')
    set(row, 'label', 'Ours')
    expect(put()).toMatchObject({ id: 'own own-model-1', label: 'Ours', model: { label: 'Ours' } })
  })
})

describe('a new model', () => {
  it('is like the one it is made from, under a code that is free', () => {
    const { add } = open(own('own-model-1', 'Mine'))
    add('switch-8')
    expect(put()).toMatchObject({ code: 'own-model-2', label: 'Switch, 8 (own 2)', model: { max_w: 10 } })
  })
  it('is not made from nothing', () => {
    const { add } = open()
    add('')
    expect(made).toEqual([])
  })
  it('is chosen from beside those of the library once it is computed', () => {
    const { add } = open()
    add('switch-8')
    const shelves = {
      build_ups: {},
      patterns: {},
      equipment: { 'own-model-1': { ...put().model, can: ['joins'] } },
    }
    useAssessment().found = { own: shelves } as unknown as Assessment
    const library = useLibrary()
    expect(Object.keys(library.shelves?.equipment ?? {})).toEqual(['switch-8', 'ap-2x2', 'own-model-1'])
    expect(library.can('own-model-1', 'joins')).toBe(true)
    expect(library.read?.equipment).not.toHaveProperty('own-model-1')
  })
})

describe('giving back', () => {
  it('takes the own figures away', () => {
    const { rows, giveBack } = open(element('equipment', 'sw', { model: 'switch-8' }), own('switch-8', 'Cheaper'))
    const row = rows.value[0]
    if (!row) throw new Error('no row')
    giveBack(row)
    expect(made).toEqual([{ op: 'remove', id: 'own switch-8' }])
  })
})
