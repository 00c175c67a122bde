import 'fake-indexeddb/auto'
import { createPinia, setActivePinia } from 'pinia'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import type { EditRequest } from '@/api/schema'
import { everything } from '@/job/keeping'
import { put, remove, type Element } from '@/job/types'
import { useJob } from '@/job/useJob'
import { useOutbox } from '@/job/useOutbox'

const ID = '00000000-0000-7000-8000-000000000001'
const OTHER = '00000000-0000-7000-8000-000000000002'
const storey = (label: string, id = ID, ceiling_m = 2.7): Element => ({
  kind: 'storey',
  order: 1,
  storey_kind: 'floor',
  id,
  label,
  elevation_m: 0,
  ceiling_m,
  void_air: false,
  void_m: 0.3,
  slab_build_up: 'timber-floor',
})
const json = (body: unknown, status = 200): Response =>
  new Response(JSON.stringify(body), { status, headers: { 'Content-Type': 'application/json' } })
const problem = (status: number, more: object = {}) =>
  json({ status, title: 'x', detail: `Said ${status}.`, ...more }, status)

type Answer = Response | Promise<Response>
interface Server {
  /** What it says to the next edits and steps, one after another; then it keeps them. */
  edits: (() => Answer)[]
  /** The state of a job, when it is asked for. */
  state: (jobId: string) => Answer
  since: () => Answer
  asked: { path: string; body: EditRequest }[]
}
let server: Server

const answer = (revision: number, operations: unknown[] = [], more: object = {}) =>
  json({ revision, label: '', operations, can_undo: true, can_redo: false, reload: false, ...more })
const state = (id: string, label: string, revision = 4) =>
  json({ id, name: 'House', revision, elements: [storey(label)] })

beforeEach(async () => {
  setActivePinia(createPinia())
  localStorage.clear()
  server = { edits: [], state: (id) => state(id, 'Ground'), since: () => answer(4), asked: [] }
  let revision = 4
  vi.stubGlobal('fetch', async (request: Request) => {
    const path = new URL(request.url).pathname
    const last = path.split('/').at(-1) ?? ''
    if (last === 'history') return json({ can_undo: false, can_redo: false })
    if (path.includes('/since/')) return server.since()
    if (request.method === 'GET') return server.state(path.split('/')[3] ?? '')
    const body = (await request.json()) as EditRequest
    server.asked.push({ path: last, body })
    return (server.edits.shift() ?? (() => answer(++revision, body.operations ?? [])))()
  })
})
afterEach(async () => {
  useJob().close()
  for (const edit of await everything()) useJob().letGo(edit.editId)
  await vi.waitFor(async () => expect(await everything()).toEqual([]))
  vi.unstubAllGlobals()
  vi.useRealTimers()
})

async function opened() {
  const job = useJob()
  await job.open(ID)
  return job
}
const label = () => useJob().get('storey', ID)?.label
const rename = (to: string) => useJob().edit('Rename', [put(storey(to))])
const settled = () => vi.waitFor(() => expect(useJob().waiting).toHaveLength(0))

describe('an edit', () => {
  it('is seen at once, then kept, and tells what was on the screen before it', async () => {
    const job = await opened()
    rename('Cellar')
    expect(label()).toBe('Cellar')
    expect(job.waiting).toHaveLength(1)
    await settled()
    expect([job.revision, job.canUndo]).toEqual([5, true])
    expect(server.asked[0]?.body.seen).toEqual([storey('Ground')])
    await vi.waitFor(async () => expect(await everything()).toEqual([]))
  })

  it.each([
    ['no connection', () => Promise.reject(new TypeError('no network'))],
    ['no database', () => problem(503)],
    ['a mistake of ours', () => problem(500)],
    ['a slow line', () => problem(408)],
    ['too much at once', () => problem(429)],
  ])('waits in the browser over %s and is sent again', async (_, refuse) => {
    const job = await opened()
    vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout'] })
    server.edits = [refuse as () => Answer]
    rename('Cellar')
    await vi.waitFor(() => expect(job.offline).toBe(true))
    expect(JSON.stringify(await everything())).toContain('Cellar')
    expect(label()).toBe('Cellar')
    await vi.advanceTimersByTimeAsync(2500)
    await settled()
    expect(job.offline).toBe(false)
    expect(new Set(server.asked.map((one) => one.body.edit_id)).size).toBe(1)
  })

  it.each([422, 413, 431, 400, 403])(
    'that is refused (%i) is set aside with its reason; later ones go on',
    async (status) => {
      const job = await opened()
      server.edits = [() => problem(status)]
      rename('Cellar')
      job.edit('Add', [put(storey('First', OTHER))])
      await settled()
      expect(job.aside.map((edit) => edit.refused)).toEqual([`Said ${status}.`])
      expect(job.refusal).toContain('Not saved: Rename')
      expect([label(), job.get('storey', OTHER)?.label]).toEqual(['Ground', 'First'])
      expect(JSON.stringify(await everything())).toContain('Cellar')
      job.tryAgain(job.aside[0]?.editId ?? '')
      await settled()
      expect([job.aside.length, label()]).toEqual([0, 'Cellar'])
    },
  )

  it('over which the server stumbles again and again is set aside', async () => {
    const job = await opened()
    server.edits = [500, 500, 500].map((status) => () => problem(status))
    rename('Cellar')
    for (let times = 1; times < 3; times += 1) {
      await vi.waitFor(() => expect(server.asked).toHaveLength(times))
      await vi.waitFor(() => expect(job.offline).toBe(true))
      await job.flush()
    }
    await vi.waitFor(() => expect(job.aside).toHaveLength(1))
    job.letGo(job.aside[0]?.editId ?? '')
    expect([job.aside.length, label()]).toEqual([0, 'Ground'])
  })

  it.each([
    [410, { why: 'bin' }, 'bin'],
    [404, {}, 'deleted'],
  ])('of a job that is gone (%i) stays on the sheet and is kept', async (status, more, how) => {
    const job = await opened()
    server.edits = [() => problem(status, more)]
    rename('Cellar')
    await vi.waitFor(() => expect(job.gone).toBe(how))
    expect([label(), job.waiting.length]).toEqual(['Cellar', 1])
    await vi.waitFor(async () => expect(await everything()).toHaveLength(1))
  })

  it('that finds no room in the browser is sent at once, and it is said', async () => {
    const job = await opened()
    const full = vi.spyOn(IDBObjectStore.prototype, 'put').mockImplementation(() => {
      throw new DOMException('full', 'QuotaExceededError')
    })
    let keep: (response: Response) => void = () => {}
    server.edits = [() => new Promise<Response>((done) => (keep = done))]
    rename('Cellar')
    await vi.waitFor(() => expect(job.unstored).toBe(true))
    expect(server.asked).toHaveLength(1)
    keep(answer(5, [put(storey('Cellar'))]))
    await settled()
    expect([job.unstored, label()]).toEqual([false, 'Cellar'])
    full.mockRestore()
  })

  it('of twelve thousand elements is kept in the browser like any other', async () => {
    const job = await opened()
    server.edits = [() => problem(503)]
    const many = Array.from({ length: 12_000 }, (_, n) =>
      put(storey(`Storey ${n}`, `00000000-0000-7000-8000-${String(n + 10).padStart(12, '0')}`)),
    )
    job.edit('Many', many)
    await vi.waitFor(() => expect(job.offline).toBe(true))
    await vi.waitFor(async () => expect((await everything())[0]?.operations).toHaveLength(12_000), 10_000)
    expect(job.unstored).toBe(false)
  }, 20_000)

  it('of nothing asks nobody', async () => {
    const job = await opened()
    job.edit('Nothing', [])
    expect(server.asked).toEqual([])
  })

  it('that removes is seen at once too', async () => {
    const job = await opened()
    job.edit('Remove', [remove(ID)])
    expect(job.of('storey')).toEqual([])
    await settled()
    expect(job.revision).toBe(5)
  })
})

describe('a clash', () => {
  const clash = {
    element_id: ID,
    kind: 'storey',
    label: 'Ground',
    path: ['label'],
    mine: 'Mine',
    theirs: 'Theirs',
    via: null,
  }
  const refused = () => problem(409, { why: 'clash', clashes: [clash], revision: 5, target: null })

  it('waits for the person and is sent again with the choice, under the same id', async () => {
    server.since = () => answer(5, [put(storey('Theirs'))])
    const job = await opened()
    server.edits = [refused]
    rename('Mine')
    await vi.waitFor(() => expect(job.conflict?.problem.clashes).toHaveLength(1))
    await vi.waitFor(() => expect(job.revision).toBe(5))
    expect(label()).toBe('Mine')
    job.settle([{ element_id: ID, path: ['label'], take: 'mine', theirs: 'Theirs' }])
    await settled()
    expect(server.asked[1]?.body.choices).toEqual([{ element_id: ID, path: ['label'], take: 'mine', theirs: 'Theirs' }])
    expect(server.asked[1]?.body.edit_id).toBe(server.asked[0]?.body.edit_id)
  })
})

describe('an undo', () => {
  it('stands in the line: it is asked for after the edit before it is kept', async () => {
    const job = await opened()
    let keep: (response: Response) => void = () => {}
    server.edits = [() => new Promise<Response>((done) => (keep = done)), () => answer(6, [put(storey('Ground'))])]
    rename('Cellar')
    const undone = job.undo()
    await vi.waitFor(() => expect(server.asked).toHaveLength(1))
    keep(answer(5, [put(storey('Cellar'))]))
    await undone
    expect(server.asked.map((one) => one.path)).toEqual(['edits', 'undo'])
    expect([label(), job.revision]).toEqual(['Ground', 6])
  })

  it('of nothing says so and blocks nothing', async () => {
    const job = await opened()
    server.edits = [() => problem(409)]
    await job.undo()
    expect([job.refusal, job.waiting.length]).toEqual(['Said 409.', 0])
  })
})

describe('what others do', () => {
  it('while an edit is on its way is taken in after it', async () => {
    const job = await opened()
    let keep: (response: Response) => void = () => {}
    server.edits = [() => new Promise<Response>((done) => (keep = done))]
    server.since = () => answer(6, [put(storey('First', OTHER))])
    rename('Cellar')
    await vi.waitFor(() => expect(server.asked).toHaveLength(1))
    job.announced(6)
    keep(answer(5, [put(storey('Cellar'))]))
    await vi.waitFor(() => expect(job.revision).toBe(6))
    expect(job.get('storey', OTHER)?.label).toBe('First')
  })

  it('is opened anew when the history does not tell it: a backup was put back', async () => {
    const job = await opened()
    server.since = () => answer(2, [], { reload: true })
    server.state = (id) => state(id, 'From the backup', 2)
    job.announced(2)
    await vi.waitFor(() => expect(label()).toBe('From the backup'))
    expect(job.revision).toBe(2)
  })

  it('is opened anew after an edit whose answer cannot tell it, also when the connection is lost in between', async () => {
    const job = await opened()
    vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout'] })
    server.edits = [() => answer(900, [], { reload: true })]
    server.since = () => answer(900, [], { reload: true })
    server.state = () => problem(503)
    rename('Cellar')
    await vi.waitFor(() => expect(job.offline).toBe(true))
    expect([label(), job.waiting.length]).toEqual(['Cellar', 0])
    server.state = (id) => state(id, 'Cellar, as it is kept', 900)
    await vi.advanceTimersByTimeAsync(2500)
    await vi.waitFor(() => expect([label(), job.revision]).toEqual(['Cellar, as it is kept', 900]))
  })

  it('is missed while the server is away, and caught up with then', async () => {
    const job = await opened()
    vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout'] })
    server.since = () => problem(503)
    job.announced(6)
    await vi.waitFor(() => expect(job.offline).toBe(true))
    server.since = () => answer(6, [put(storey('Attic'))])
    await vi.advanceTimersByTimeAsync(2500)
    await vi.waitFor(() => expect([label(), job.offline]).toEqual(['Attic', false]))
  })
})

describe('two jobs', () => {
  it('never mix: an answer for one that was left meanwhile is dropped', async () => {
    const job = useJob()
    let slow: (response: Response) => void = () => {}
    server.state = (id) => (id === ID ? new Promise<Response>((done) => (slow = done)) : state(id, 'Of the other'))
    const first = job.open(ID)
    await job.open(OTHER)
    slow(state(ID, 'Of the first', 40))
    await first
    expect([job.id, job.revision, label()]).toEqual([OTHER, 4, 'Of the other'])
  })

  it('an edit under way when its job is left is kept once, and not laid over the other', async () => {
    const job = await opened()
    let keep: (response: Response) => void = () => {}
    server.edits = [() => new Promise<Response>((done) => (keep = done))]
    rename('Cellar')
    await vi.waitFor(() => expect(server.asked).toHaveLength(1))
    await job.open(OTHER)
    keep(answer(9, [put(storey('Cellar'))]))
    await vi.waitFor(async () => expect(await everything()).toEqual([]))
    expect([job.revision, label()]).toEqual([4, 'Ground'])
  })
})

describe('work of a window that is closed', () => {
  async function leftBehind(): Promise<void> {
    server.edits = [() => problem(503)]
    await opened()
    rename('Cellar')
    await vi.waitFor(async () => expect(await everything()).toHaveLength(1))
    await vi.waitFor(() => expect(useJob().offline).toBe(true))
    useJob().close()
  }

  it('is sent from any window, whatever that shows', async () => {
    await leftBehind()
    const outbox = useOutbox()
    await vi.waitFor(async () => expect(await everything()).toEqual([]))
    expect(server.asked.at(-1)?.body.operations).toEqual([put(storey('Cellar'))])
    expect(outbox.left).toEqual([])
  })

  it('that a release before kept otherwise is taken in too', async () => {
    const old = { editId: OTHER, label: 'Rename', baseRevision: 4, operations: [put(storey('Cellar'))] }
    localStorage.setItem(`heathrise.waiting.${ID}.${OTHER}`, JSON.stringify(old))
    await opened()
    expect(label()).toBe('Cellar')
    await settled()
    expect(server.asked[0]?.body).toMatchObject({ edit_id: OTHER, base_revision: 4 })
    expect(localStorage.getItem(`heathrise.waiting.${ID}.${OTHER}`)).toBeNull()
  })

  it('is laid over its job when that is opened again', async () => {
    await leftBehind()
    server.edits = [() => problem(503)]
    await opened()
    expect(label()).toBe('Cellar')
  })

  it.each([
    [() => problem(409, { why: 'clash', clashes: [] }), 'Open the job and choose', false],
    [() => problem(410, { why: 'bin' }), 'lies in the bin', false],
    [() => problem(404), 'was deleted', true],
    [() => problem(422), 'Said 422', false],
  ])('that cannot be kept is told of with its reason', async (refuse, words, gone) => {
    await leftBehind()
    server.edits = [refuse]
    const outbox = useOutbox()
    await vi.waitFor(() => expect(outbox.left).toHaveLength(1))
    expect(outbox.left[0]).toMatchObject({ jobName: 'House', gone })
    expect(outbox.left[0]?.why).toContain(words)
    await outbox.letGo(ID)
    expect(await everything()).toEqual([])
  })
})
