/** The open job: its elements, its edits, undo and redo. One store for all views. */
import { until, useLocalStorage } from '@vueuse/core'
import { defineStore } from 'pinia'
import { v7 as uuid } from 'uuid'
import { computed, ref, shallowRef } from 'vue'
import type { EditAnswer } from '@/api/schema'
import { api, Refusal, sendEdit, take, Unreachable, type Problem } from '@/api/client'
import { useGuarded } from '@/api/useGuarded'
import { applied, readWaiting, rebased, writeWaiting, type Waiting } from '@/job/queue'
import type { Element, Kind, Of, Operation } from '@/job/types'

const RETRY_MS = 2000

export const useJob = defineStore('job', () => {
  const actor = useLocalStorage('heathrise.actor', uuid())
  const id = ref('')
  const name = ref('')
  const revision = ref(-1)
  const elements = shallowRef<ReadonlyMap<string, Element>>(new Map())
  const waiting = shallowRef<readonly Waiting[]>([])
  const offline = ref(false)
  const canUndo = ref(false)
  const canRedo = ref(false)
  const conflict = shallowRef<Problem | null>(null)
  const { said: refusal, guarded } = useGuarded()
  const loaded = ref(false)
  const working = ref(0)
  let sending = false
  let retry: ReturnType<typeof setTimeout> | undefined

  const all = computed(() => [...elements.value.values()])
  function of<K extends Kind>(kind: K): Of<K>[] {
    return all.value.filter((element): element is Of<K> => element.kind === kind)
  }
  function get<K extends Kind>(kind: K, elementId: string | null | undefined): Of<K> | undefined {
    const found = elementId ? elements.value.get(elementId) : undefined
    return found?.kind === kind ? (found as Of<K>) : undefined
  }

  async function open(jobId: string): Promise<void> {
    if (id.value !== jobId) close()
    id.value = jobId
    const state = await take(api.GET('/api/jobs/{job_id}', { params: { path: { job_id: jobId } } }))
    name.value = state.name
    revision.value = state.revision
    elements.value = new Map(state.elements.map((element) => [element.id, element]))
    waiting.value = readWaiting(localStorage, jobId)
    for (const edit of waiting.value) elements.value = applied(elements.value, edit.operations)
    loaded.value = true
    await refreshHistory()
    void flush()
  }

  function close(): void {
    clearTimeout(retry)
    loaded.value = false
    elements.value = new Map()
    waiting.value = []
    conflict.value = null
    refusal.value = ''
    revision.value = -1
  }

  async function refreshHistory(): Promise<void> {
    const path = { job_id: id.value }
    const past = await take(api.GET('/api/jobs/{job_id}/history', { params: { path, query: { actor: actor.value } } }))
    canUndo.value = past.can_undo
    canRedo.value = past.can_redo
  }

  function keepWaiting(list: readonly Waiting[]): void {
    writeWaiting(localStorage, id.value, waiting.value, list)
    waiting.value = list
  }

  /** Make an edit: seen at once, kept in this browser, sent in order. */
  function edit(label: string, operations: readonly Operation[]): void {
    if (!operations.length) return
    elements.value = applied(elements.value, operations)
    refusal.value = ''
    keepWaiting([
      ...waiting.value,
      { editId: uuid(), label: label.slice(0, 120), baseRevision: revision.value, operations },
    ])
    void flush()
  }

  async function flush(): Promise<void> {
    if (sending || conflict.value) return
    sending = true
    try {
      for (let next = waiting.value[0]; next; next = waiting.value[0]) {
        const answer = await sendEdit({
          ...next,
          jobId: id.value,
          actor: actor.value,
          baseRevision: Math.max(next.baseRevision, 0),
        })
        accept(answer)
        keepWaiting(rebased(waiting.value.slice(1), next.operations, answer.operations, answer.revision))
      }
    } catch (error) {
      await failed(error)
    } finally {
      sending = false
    }
  }

  /** Wait until nothing waits to be saved; false when it cannot be saved just now. */
  async function saved(): Promise<boolean> {
    if (!waiting.value.length) return true
    void flush()
    await until(() => !waiting.value.length || offline.value || conflict.value !== null).toBe(true)
    return !waiting.value.length
  }

  /** Wait until all is saved, for work on the server that reads the job. Throws Unreachable when it cannot be now. */
  async function mustBeSaved(): Promise<void> {
    if (!(await saved())) throw new Unreachable('Earlier edits still wait to be saved. Try again in a moment.')
  }

  function accept(answer: EditAnswer): void {
    offline.value = false
    revision.value = Math.max(revision.value, answer.revision)
    canUndo.value = answer.can_undo
    canRedo.value = answer.can_redo
    let next = applied(elements.value, answer.operations)
    for (const later of waiting.value.slice(1)) next = applied(next, later.operations)
    elements.value = next
  }

  async function failed(error: unknown): Promise<void> {
    if (error instanceof Unreachable) {
      offline.value = true
      clearTimeout(retry)
      retry = setTimeout(() => void flush(), RETRY_MS)
      return
    }
    if (!(error instanceof Refusal)) throw error
    if (error.problem.status === 409 && error.problem.element_id) {
      conflict.value = error.problem
      return
    }
    refusal.value = error.problem.detail
    keepWaiting(waiting.value.slice(1))
    await open(id.value)
  }

  /** Settle a conflict: send mine again on what is there now, or let it go. */
  async function settle(mine: boolean): Promise<void> {
    const [first, ...rest] = waiting.value
    conflict.value = null
    const state = await take(api.GET('/api/jobs/{job_id}', { params: { path: { job_id: id.value } } }))
    keepWaiting(mine && first ? [{ ...first, editId: uuid(), baseRevision: state.revision }, ...rest] : rest)
    await open(id.value)
  }

  /** Do something that takes a while; until it is done the screen says that it is at work. */
  async function during<T>(work: () => Promise<T>): Promise<T> {
    working.value += 1
    try {
      return await work()
    } finally {
      working.value -= 1
    }
  }

  const step = (way: 'undo' | 'redo') =>
    during(async () => {
      if (waiting.value.length) await flush()
      const call = { params: { path: { job_id: id.value } }, body: { actor: actor.value } }
      await guarded(async () =>
        accept(
          await take(
            way === 'undo' ? api.POST('/api/jobs/{job_id}/undo', call) : api.POST('/api/jobs/{job_id}/redo', call),
          ),
        ),
      )
    })

  /** Take in what others did up to a revision they announced. */
  async function catchUp(announced: number): Promise<void> {
    if (announced <= revision.value || sending || waiting.value.length) return
    const path = { job_id: id.value, revision: revision.value }
    try {
      accept(
        await take(api.GET('/api/jobs/{job_id}/since/{revision}', { params: { path, query: { actor: actor.value } } })),
      )
    } catch (error) {
      if (!(error instanceof Unreachable)) throw error
      clearTimeout(retry)
      retry = setTimeout(() => void catchUp(announced), RETRY_MS)
    }
  }

  return {
    actor,
    id,
    name,
    revision,
    elements,
    waiting,
    offline,
    canUndo,
    canRedo,
    conflict,
    refusal,
    loaded,
    working,
    all,
    during,
    of,
    get,
    open,
    close,
    edit,
    flush,
    saved,
    mustBeSaved,
    takeIn: accept,
    settle,
    undo: () => step('undo'),
    redo: () => step('redo'),
    catchUp,
  }
})
