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
export function applied(elements: ReadonlyMap<string, Element>, operations: readonly Operation[]): Map<string, Element> {
  const next = new Map(elements)
  for (const operation of operations) {
    if (operation.op === 'put') next.set(operation.element.id, operation.element)
    else next.delete(operation.id)
  }
  return next
}

export function storageKey(jobId: string): string {
  return `heathrise.waiting.${jobId}`
}

export function readWaiting(text: string | null): Waiting[] {
  if (!text) return []
  try {
    const list: unknown = JSON.parse(text)
    return Array.isArray(list) ? (list as Waiting[]).filter((w) => Array.isArray(w.operations)) : []
  } catch {
    return []
  }
}
