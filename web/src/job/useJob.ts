/** The open job: its elements, its edits, undo and redo. One store for all views. */
import { until, useLocalStorage } from '@vueuse/core'
import { defineStore } from 'pinia'
import { v7 as uuid } from 'uuid'
import { computed, ref, shallowRef } from 'vue'
import type { EditAnswer } from '@/api/schema'
import { api, leaveJob, Left, Refusal, take, Unreachable, type Problem } from '@/api/client'
import { deliver, type Outcome } from '@/job/deliver'
import { drop, keep, takeOver, thisWindow } from '@/job/keeping'
import { applied, inOrder, laidOver, seenBefore, type Choice, type Elements, type Waiting } from '@/job/queue'
import type { Element, Kind, Of, Operation } from '@/job/types'

const RETRY_MS = 2000
const LONGEST_RETRY_MS = 30_000
/** An edit over which the server stumbles so often is set aside, so that the others go on. */
const STUMBLES = 3

export interface Clashing {
  readonly edit: Waiting
  readonly problem: Problem
}

export const useJob = defineStore('job', () => {
  const actor = useLocalStorage('heathrise.actor', uuid())
  const id = ref('')
  const name = ref('')
  const revision = ref(-1)
  /** As the server has it; `elements` is that with what waits laid over it. */
  let kept: Elements = new Map()
  const elements = shallowRef<Elements>(kept)
  const waiting = shallowRef<readonly Waiting[]>([])
  /** What the server does not keep, until the person decides. */
  const aside = shallowRef<readonly Waiting[]>([])
  const conflict = shallowRef<Clashing | null>(null)
  const gone = ref<'bin' | 'deleted' | null>(null)
  const offline = ref(false)
  /** This browser has no room: what waits is in this window alone. */
  const unstored = ref(false)
  const canUndo = ref(false)
  const canRedo = ref(false)
  const refusal = ref('')
  const loaded = ref(false)
  const working = ref(0)
  /** Which opening of which job this is: an answer to another is dropped. */
  let visit = 0
  let pumping = -1
  let behind = false
  let tries = 0
  let stumbles = 0
  let retry: ReturnType<typeof setTimeout> | undefined

  const all = computed(() => [...elements.value.values()])
  function of<K extends Kind>(kind: K): Of<K>[] {
    return all.value.filter((element): element is Of<K> => element.kind === kind)
  }
  function get<K extends Kind>(kind: K, elementId: string | null | undefined): Of<K> | undefined {
    const found = elementId ? elements.value.get(elementId) : undefined
    return found?.kind === kind ? (found as Of<K>) : undefined
  }

  function show(): void {
    elements.value = laidOver(kept, waiting.value)
  }

  async function open(jobId: string): Promise<void> {
    if (id.value !== jobId) close()
    const mine = ++visit
    id.value = jobId
    const path = { job_id: jobId }
    const [state, mineWaiting] = await Promise.all([
      take(api.GET('/api/jobs/{job_id}', { params: { path } })),
      takeOver(jobId),
    ])
    if (mine !== visit) return
    const here = mineWaiting.filter((edit) => edit.jobId === jobId)
    waiting.value = here.filter((edit) => !edit.refused)
    aside.value = here.filter((edit) => edit.refused)
    gone.value = null
    takeWhole(state)
    loaded.value = true
    await refreshHistory(mine)
    void pump()
  }

  function takeWhole(state: { name: string; revision: number; elements: readonly Element[] }): void {
    name.value = state.name
    revision.value = state.revision
    kept = new Map(state.elements.map((element) => [element.id, element]))
    show()
  }

  /** Leave the job. What waits of it stays in this browser and is sent from wherever a window is open. */
  function close(): void {
    visit += 1
    leaveJob()
    clearTimeout(retry)
    id.value = ''
    loaded.value = false
    waiting.value = []
    aside.value = []
    conflict.value = null
    gone.value = null
    offline.value = false
    unstored.value = false
    refusal.value = ''
    revision.value = -1
    behind = false
    kept = new Map()
    show()
  }

  async function refreshHistory(mine: number): Promise<void> {
    const params = { path: { job_id: id.value }, query: { actor: actor.value } }
    const past = await take(api.GET('/api/jobs/{job_id}/history', { params }))
    if (mine !== visit) return
    canUndo.value = past.can_undo
    canRedo.value = past.can_redo
  }

  function enqueue(way: Waiting['way'], label: string, operations: readonly Operation[]): void {
    const edit: Waiting = {
      editId: uuid(),
      jobId: id.value,
      jobName: name.value,
      actor: actor.value,
      window: thisWindow,
      way,
      label: label.slice(0, 120),
      baseRevision: revision.value,
      operations,
      ...seenBefore(elements.value, operations),
      choices: [],
    }
    waiting.value = [...waiting.value, edit]
    elements.value = applied(elements.value, operations)
    void store(edit)
    void pump()
  }

  async function store(edit: Waiting): Promise<void> {
    if (!(await keep(edit)) && edit.jobId === id.value) unstored.value = true
  }

  /** Make an edit: seen at once, kept in this browser, sent in order. */
  function edit(label: string, operations: readonly Operation[]): void {
    if (!operations.length) return
    refusal.value = ''
    enqueue('edit', label, operations)
  }

  /** Send what waits, one after another, and take in what others did: the only place where either happens. */
  async function pump(): Promise<void> {
    if (pumping === visit || !loaded.value) return
    const mine = (pumping = visit)
    clearTimeout(retry)
    try {
      while (mine === visit && !gone.value) {
        const next = conflict.value ? undefined : waiting.value[0]
        if (!next && !behind) break
        if (!(next ? await send(next, mine) : await catchUp(mine))) break
      }
    } finally {
      if (pumping === mine) pumping = -1
    }
  }

  /** Send one edit; false when nothing more can be done just now. */
  async function send(edit: Waiting, mine: number): Promise<boolean> {
    const outcome = await deliver(edit, revision.value)
    if (outcome.is === 'kept' || outcome.is === 'nothing') void drop(edit.editId)
    if (mine !== visit) return false
    if (outcome.is === 'later' && !(outcome.ours && ++stumbles >= STUMBLES)) return later()
    stumbles = 0
    tries = 0
    offline.value = false
    return await became(edit, outcome, mine)
  }

  async function became(edit: Waiting, outcome: Outcome, mine: number): Promise<boolean> {
    switch (outcome.is) {
      case 'kept':
        leave(edit)
        // What cannot be told is fetched in its turn, where a lost connection is minded.
        if (outcome.answer.reload) behind = true
        else await accept(outcome.answer, mine)
        break
      case 'nothing':
        leave(edit)
        refusal.value = outcome.why
        break
      case 'clash':
        conflict.value = { edit, problem: outcome.problem }
        behind = true
        break
      case 'gone':
        gone.value = outcome.how
        return false
      default:
        setAside(edit, outcome.why)
    }
    return true
  }

  function leave(edit: Waiting): void {
    waiting.value = waiting.value.filter((other) => other.editId !== edit.editId)
    if (!waiting.value.length) unstored.value = false
  }

  function setAside(edit: Waiting, why: string): void {
    const refused = { ...edit, refused: why }
    leave(edit)
    aside.value = [...aside.value, refused]
    refusal.value = `Not saved: ${edit.label}. Why, and what to do, stands in the margin.`
    void store(refused)
    show()
  }

  /** Try again in a while, ever more patiently. */
  function later(): false {
    offline.value = true
    clearTimeout(retry)
    retry = setTimeout(() => void pump(), Math.min(RETRY_MS * 2 ** tries, LONGEST_RETRY_MS))
    tries += 1
    return false
  }

  /** Try what waits at once: the connection is back, or the person asks. */
  function flush(): Promise<void> {
    tries = 0
    return pump()
  }

  async function accept(answer: EditAnswer, mine = visit): Promise<void> {
    canUndo.value = answer.can_undo
    canRedo.value = answer.can_redo
    if (answer.reload) {
      const params = { path: { job_id: id.value } }
      const state = await take(api.GET('/api/jobs/{job_id}', { params }))
      if (mine === visit) takeWhole(state)
      return
    }
    if (answer.revision < revision.value) return
    kept = applied(kept, answer.operations)
    revision.value = answer.revision
    show()
  }

  /** Take in what others did since; false when nothing more can be done just now. */
  async function catchUp(mine: number): Promise<boolean> {
    behind = false
    const params = { path: { job_id: id.value, revision: revision.value }, query: { actor: actor.value } }
    try {
      const answer = await take(api.GET('/api/jobs/{job_id}/since/{revision}', { params }))
      if (mine !== visit) return false
      offline.value = false
      tries = 0
      await accept(answer, mine)
      return true
    } catch (error) {
      if (mine !== visit) return false
      if (error instanceof Refusal && [404, 410].includes(error.problem.status)) {
        gone.value = error.problem.why === 'bin' ? 'bin' : 'deleted'
        return false
      }
      if (!(error instanceof Unreachable || error instanceof Refusal)) throw error
      behind = true
      return later()
    }
  }

  /** The server tells of a revision; one that is not this window's was made elsewhere, or is of a backup put back. */
  function announced(told: number): void {
    if (told === revision.value) return
    behind = true
    void pump()
  }

  /** The stream of revisions broke off or is there again: what there is will be asked. */
  function doubted(): void {
    behind = true
    void flush()
  }

  /** Wait until nothing waits to be saved; false when it cannot be saved just now. */
  async function saved(): Promise<boolean> {
    if (!waiting.value.length) return true
    void flush()
    await until(() => !waiting.value.length || offline.value || conflict.value !== null || gone.value !== null).toBe(
      true,
    )
    return !waiting.value.length
  }

  /** Wait until all is saved, for work on the server that reads the job. Throws Unreachable when it cannot be now. */
  async function mustBeSaved(): Promise<void> {
    const mine = visit
    const done = await saved()
    if (mine !== visit) throw new Left()
    if (!done) throw new Unreachable('Earlier edits still wait to be saved. Try again in a moment.')
  }

  /** Settle what clashed as the person chose. */
  function settle(choices: readonly Choice[]): void {
    const clash = conflict.value
    if (!clash) return
    const before = clash.edit.choices.filter(
      (old) => !choices.some((c) => c.element_id === old.element_id && String(c.path) === String(old.path)),
    )
    const settled = { ...clash.edit, choices: [...before, ...choices], target: clash.problem.target ?? null }
    waiting.value = inOrder([settled, ...waiting.value.filter((other) => other.editId !== settled.editId)])
    conflict.value = null
    void store(settled)
    void pump()
  }

  /** Let an edit go that is not kept: the person was shown it. */
  function letGo(editId: string): void {
    waiting.value = waiting.value.filter((edit) => edit.editId !== editId)
    aside.value = aside.value.filter((edit) => edit.editId !== editId)
    if (conflict.value?.edit.editId === editId) conflict.value = null
    void drop(editId)
    show()
    void pump()
  }

  /** Send an edit that was set aside once more, on what is there now. */
  function tryAgain(editId: string): void {
    const edit = aside.value.find((other) => other.editId === editId)
    if (!edit) return
    const again: Waiting = { ...edit, refused: undefined }
    aside.value = aside.value.filter((other) => other.editId !== editId)
    waiting.value = [...waiting.value, again]
    void store(again)
    show()
    void pump()
  }

  /** Take over what closed windows left of this job. */
  function join(edits: readonly Waiting[]): void {
    const known = new Set([...waiting.value, ...aside.value].map((edit) => edit.editId))
    const fresh = edits.filter((edit) => edit.jobId === id.value && !known.has(edit.editId))
    if (!fresh.length || !loaded.value) return
    waiting.value = inOrder([...waiting.value, ...fresh.filter((edit) => !edit.refused)])
    aside.value = [...aside.value, ...fresh.filter((edit) => edit.refused)]
    show()
    void pump()
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

  /** An undo stands in the line with the edits, so that it undoes the one before it whatever is still under way. */
  async function step(way: 'undo' | 'redo'): Promise<void> {
    enqueue(way, way === 'undo' ? 'Undo' : 'Redo', [])
    await saved()
  }

  return {
    actor,
    id,
    name,
    revision,
    elements,
    waiting,
    aside,
    offline,
    unstored,
    canUndo,
    canRedo,
    conflict,
    gone,
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
    takeIn: (answer: EditAnswer) => accept(answer),
    settle,
    letGo,
    tryAgain,
    join,
    undo: () => step('undo'),
    redo: () => step('redo'),
    announced,
    doubted,
  }
})
