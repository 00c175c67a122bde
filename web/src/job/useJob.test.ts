import { createPinia, setActivePinia } from 'pinia'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { readWaiting, writeWaiting } from '@/job/queue'
import { put, remove, type Element } from '@/job/types'
import { useJob } from '@/job/useJob'

const ID = '00000000-0000-7000-8000-000000000001'
const storey = (label: string): Element => ({
  kind: 'storey',
  order: 1,
  storey_kind: 'floor',
  id: ID,
  label,
  elevation_m: 0,
  ceiling_m: 2.7,
  void_m: 0.3,
  slab_build_up: 'timber-floor',
})
const json = (body: unknown, status = 200): Response =>
  new Response(JSON.stringify(body), { status, headers: { 'Content-Type': 'application/json' } })

/** A server of three answers; `edits` is what it says to an edit, one after another. */
function serve(edits: (() => Response | Promise<Response>)[], kept = 'Ground'): string[] {
  const asked: string[] = []
  vi.stubGlobal('fetch', async (request: Request) => {
    const path = new URL(request.url).pathname
    asked.push(`${request.method} ${path.split('/').at(-1)}`)
    if (path.endsWith('/history')) return json({ can_undo: false, can_redo: false })
    if (path.endsWith('/edits')) return (edits.shift() ?? (() => json({}, 500)))()
    return json({ id: ID, name: 'House', revision: 4, elements: [storey(kept)] })
  })
  return asked
}
const done =
  (revision: number, ...operations: unknown[]) =>
  () =>
    json({ revision, label: '', operations, can_undo: true, can_redo: false })
const away = () => Promise.reject(new TypeError('no network'))

beforeEach(() => {
  setActivePinia(createPinia())
  localStorage.clear()
})
afterEach(() => {
  vi.unstubAllGlobals()
  vi.useRealTimers()
})

describe('an edit', () => {
  it('is seen at once, then kept', async () => {
    serve([done(5, put(storey('Cellar')))])
    const job = useJob()
    await job.open(ID)
    job.edit('Rename', [put(storey('Cellar'))])
    expect(job.get('storey', ID)?.label).toBe('Cellar')
    expect(job.waiting).toHaveLength(1)
    await vi.waitFor(() => expect(job.waiting).toHaveLength(0))
    expect([job.revision, job.canUndo]).toEqual([5, true])
    expect(readWaiting(localStorage, ID)).toEqual([])
  })

  it('waits in the browser while the server is away and is sent again', async () => {
    const asked = serve([away, done(5, put(storey('Cellar')))])
    const job = useJob()
    await job.open(ID)
    vi.useFakeTimers()
    job.edit('Rename', [put(storey('Cellar'))])
    await vi.waitFor(() => expect(job.offline).toBe(true))
    expect(JSON.stringify(readWaiting(localStorage, ID))).toContain('Cellar')
    await vi.advanceTimersByTimeAsync(2500)
    await vi.waitFor(() => expect(job.waiting).toHaveLength(0))
    expect(job.offline).toBe(false)
    expect(asked.filter((a) => a === 'POST edits')).toHaveLength(2)
  })

  it('is laid over the job again after a reload', async () => {
    writeWaiting(
      localStorage,
      ID,
      [],
      [{ editId: ID, label: 'Rename', baseRevision: 4, operations: [put(storey('Cellar'))] }],
    )
    serve([away])
    const job = useJob()
    await job.open(ID)
    expect(job.get('storey', ID)?.label).toBe('Cellar')
  })

  it('that is refused goes away with its reason, and what is kept is shown', async () => {
    serve([() => json({ status: 422, title: 'x', detail: 'A storey needs a height.' }, 422)])
    const job = useJob()
    await job.open(ID)
    job.edit('Rename', [put(storey('Cellar'))])
    await vi.waitFor(() => expect(job.refusal).toBe('A storey needs a height.'))
    await vi.waitFor(() => expect(job.get('storey', ID)?.label).toBe('Ground'))
    expect(job.waiting).toHaveLength(0)
  })

  it.each([
    [true, 'Mine'],
    [false, 'Theirs'],
  ])('that clashes leaves the choice (mine: %s)', async (mine, label) => {
    const clash = () =>
      json(
        { status: 409, title: 'x', detail: 'x', element_id: ID, mine: storey('Mine'), theirs: storey('Theirs') },
        409,
      )
    serve([clash, done(6, put(storey('Mine')))], 'Theirs')
    const job = useJob()
    await job.open(ID)
    job.edit('Rename', [put(storey('Mine'))])
    await vi.waitFor(() => expect(job.conflict?.element_id).toBe(ID))
    await job.settle(mine)
    await vi.waitFor(() => expect(job.waiting).toHaveLength(0))
    expect(job.get('storey', ID)?.label).toBe(label)
  })

  it('of nothing asks nobody', async () => {
    const asked = serve([])
    const job = useJob()
    await job.open(ID)
    job.edit('Nothing', [])
    expect(asked).not.toContain('POST edits')
  })

  it('that removes is seen at once too', async () => {
    serve([done(5, remove(ID))])
    const job = useJob()
    await job.open(ID)
    job.edit('Remove', [remove(ID)])
    expect(job.of('storey')).toEqual([])
    await vi.waitFor(() => expect(job.revision).toBe(5))
  })
})
