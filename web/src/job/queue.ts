/**
 * Edits that wait to be kept, in order, in this browser: a reload or a lost connection loses none.
 * Pure functions over a list; `useEditQueue` runs them.
 */
import type { Element, Operation } from '@/job/types'

export interface Waiting {
  readonly editId: string
  readonly label: string
  readonly baseRevision: number
  readonly operations: readonly Operation[]
}

/** Elements by id, as they are once operations are applied. */
export function applied(
  elements: ReadonlyMap<string, Element>,
  operations: readonly Operation[],
): Map<string, Element> {
  const next = new Map(elements)
  for (const operation of operations) {
    if (operation.op === 'put') next.set(operation.element.id, operation.element)
    else next.delete(operation.id)
  }
  return next
}

/** Each edit has a key of its own, so that two windows of one browser never write over each other. */
export function storageKey(jobId: string, editId = ''): string {
  return `heathrise.waiting.${jobId}.${editId}`
}

function parsed(text: string | null): Waiting[] {
  try {
    const edit = JSON.parse(text ?? '') as Partial<Waiting> | null
    return edit && Array.isArray(edit.operations) && typeof edit.editId === 'string' ? [edit as Waiting] : []
  } catch {
    return []
  }
}

/** Every edit that waits for a job, in the order they were made (their ids are ordered by time). */
export function readWaiting(storage: Storage, jobId: string): Waiting[] {
  const keys = Array.from({ length: storage.length }, (_, i) => storage.key(i) ?? '')
  const mine = keys.filter((key) => key.startsWith(storageKey(jobId)))
  return mine.flatMap((key) => parsed(storage.getItem(key))).toSorted((a, b) => (a.editId < b.editId ? -1 : 1))
}

/** Bring the storage from one list to the next; other windows' edits are left alone. */
export function writeWaiting(
  storage: Storage,
  jobId: string,
  before: readonly Waiting[],
  after: readonly Waiting[],
): void {
  const kept = new Set(after.map((edit) => edit.editId))
  for (const edit of before) if (!kept.has(edit.editId)) storage.removeItem(storageKey(jobId, edit.editId))
  for (const edit of after) storage.setItem(storageKey(jobId, edit.editId), JSON.stringify(edit))
}

function touched(operations: readonly Operation[]): Set<string> {
  return new Set(operations.map((operation) => (operation.op === 'put' ? operation.element.id : operation.id)))
}

/**
 * Edits made after one that was just kept stand on its revision, for they saw it; but one that
 * touches what somebody else changed keeps its own, so that the server can see the conflict.
 */
export function rebased(
  list: readonly Waiting[],
  sent: readonly Operation[],
  answered: readonly Operation[],
  revision: number,
): Waiting[] {
  const mine = touched(sent)
  const theirs = new Set([...touched(answered)].filter((id) => !mine.has(id)))
  return list.map((edit) => {
    const clashes = [...touched(edit.operations)].some((id) => theirs.has(id))
    return clashes ? edit : { ...edit, baseRevision: Math.max(edit.baseRevision, revision) }
  })
}
