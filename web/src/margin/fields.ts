/** The fields of an element as the library describes them, with the choices each has just now. */
import type { FieldShown, LibraryAnswer } from '@/api/schema'
import { modelOf, type Element } from '@/job/types'

export type Field = FieldShown
export type Choice = readonly [value: string | number, label: string]
interface Item {
  readonly label: string
  readonly kind?: string
  readonly can?: readonly string[]
}

/** Whether an item of a shelf may be chosen: it is of a kind that is asked for, or can what is asked for. */
function fits(item: Item, only: string | null | undefined, like: Item | undefined): boolean {
  if (!only) return true
  if (only === 'alike') return !like || item.can?.join() === like.can?.join()
  const wanted = only.split(' ')
  return item.can ? wanted.every((name) => item.can?.includes(name)) : wanted.includes(item.kind ?? '')
}

/** The items of a shelf that may be chosen. */
export function itemsOf(shelves: LibraryAnswer, shelf: string, only?: string | null, now?: string | null): Choice[] {
  const items = (shelves as unknown as Record<string, Record<string, Item>>)[shelf] ?? {}
  return Object.entries(items)
    .filter(([, item]) => fits(item, only, now ? items[now] : undefined))
    .map(([id, item]) => [id, item.label])
}

/** The choices of a field; `others` are the elements it may refer to. */
export function choicesOf(
  field: Field,
  shelves: LibraryAnswer,
  element?: Element,
  others: readonly Element[] = [],
): Choice[] {
  if (field.refers) return others.map((other) => [other.id, other.label])
  if (field.shelf) return itemsOf(shelves, field.shelf, field.only, element ? modelOf(element) : null)
  return field.options.map((option) => [option.value, option.label])
}

/** The fields that an element has just now: a place in a rack has no place across. */
export function fieldsOf(fields: readonly Field[], element: Element): Field[] {
  return fields.filter(
    (field) =>
      field.path.split('.').slice(0, -1).reduce<unknown>(step, element) !== undefined &&
      valueAt(element, field.path) !== undefined,
  )
}
function step(at: unknown, key: string): unknown {
  return typeof at === 'object' && at !== null ? (at as Record<string, unknown>)[key] : undefined
}

/** The value at a dotted path. */
export function valueAt(body: object, path: string): unknown {
  return path.split('.').reduce<unknown>(step, body)
}

/** A copy with the value at a dotted path replaced. */
export function withValue<T extends object>(body: T, path: string, value: unknown): T {
  const [key = '', ...rest] = path.split('.')
  const inner = (body as Record<string, unknown>)[key]
  const next = rest.length ? withValue((inner ?? {}) as object, rest.join('.'), value) : value
  if (Array.isArray(body)) return body.map((one: unknown, n) => (String(n) === key ? next : one)) as unknown as T
  return { ...body, [key]: next }
}
