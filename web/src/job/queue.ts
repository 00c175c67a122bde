/** Edits that wait to be kept, in the order they were made. Pure functions; `keeping` stores, `deliver` sends. */
import type { Settlement } from '@/api/schema'
import type { Element, Operation } from '@/job/types'

export type Choice = Settlement

export interface Waiting {
  readonly editId: string
  readonly jobId: string
  readonly jobName: string
  readonly actor: string
  /** The window that sends it; another takes it over once that one is closed. */
  readonly window: string
  readonly way: 'edit' | 'undo' | 'redo'
  readonly label: string
  readonly baseRevision: number
  readonly operations: readonly Operation[]
  /** What was on the screen before it, of what it touches; and what it touches that was not there. */
  readonly seen: readonly Element[]
  readonly absent: readonly string[]
  /** How the person settled what clashed, and of which change an undo stepped over. */
  readonly choices: readonly Choice[]
  readonly target?: number | null
  /** Why the server does not keep it: it is set aside until the person decides. */
  readonly refused?: string
}

export type Elements = ReadonlyMap<string, Element>

const idOf = (operation: Operation): string => (operation.op === 'put' ? operation.element.id : operation.id)

/** Elements by id, as they are once operations are applied. */
export function applied(elements: Elements, operations: readonly Operation[]): Map<string, Element> {
  const next = new Map(elements)
  for (const operation of operations) {
    if (operation.op === 'put') next.set(operation.element.id, operation.element)
    else next.delete(operation.id)
  }
  return next
}

/** What the person sees: what is kept, with what waits laid over it. */
export function laidOver(kept: Elements, waiting: readonly Waiting[]): Elements {
  return waiting.length
    ? applied(
        kept,
        waiting.flatMap((edit) => edit.operations),
      )
    : kept
}

/** What was on the screen of the elements that operations touch. */
export function seenBefore(
  elements: Elements,
  operations: readonly Operation[],
): { seen: Element[]; absent: string[] } {
  const seen: Element[] = []
  const absent: string[] = []
  for (const id of new Set(operations.map(idOf))) {
    const element = elements.get(id)
    if (element) seen.push(element)
    else absent.push(id)
  }
  return { seen, absent }
}

/** In the order they were made: ids are ordered by time. */
export function inOrder(list: readonly Waiting[]): Waiting[] {
  return list.toSorted((a, b) => (a.editId < b.editId ? -1 : 1))
}
