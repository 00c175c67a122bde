/** What was computed, as tables of rows, and how an answer with changes is taken in. */
import type { AssessmentAnswer } from '@/api/schema'

type Changes = AssessmentAnswer['tables']
type RowOf<T> = T extends { rows: { [key: string]: infer R } } ? R : never
type Change<N extends keyof Changes> = NonNullable<Changes[N]>
/** Tables that hold one row, not many. */
type Single = 'beacons' | 'cost_sum' | 'hours_sum' | 'own'
export type Assessment = { readonly [N in Exclude<keyof Changes, Single>]-?: readonly RowOf<Change<N>>[] } & {
  readonly [N in Single]: RowOf<Change<N>> | null
}

interface Kept {
  readonly order: readonly string[]
  readonly rows: ReadonlyMap<string, unknown>
}
/** Each table as its keyed rows in order. */
export type Tables = Readonly<Record<string, Kept>>
const SINGLE = new Set<string>(['beacons', 'cost_sum', 'hours_sum', 'own'])

/** A row as it was when it says the same: what is shown of it then stays as it is. */
function kept(before: unknown, now: unknown): unknown {
  return before !== undefined && JSON.stringify(before) === JSON.stringify(now) ? before : now
}

/** The tables with an answer taken in; rows and tables without any change stay the same objects. */
export function taken(before: Tables, changes: Changes): Tables {
  const next: Record<string, Kept> = { ...before }
  for (const [name, change] of Object.entries(changes)) {
    if (!change) continue
    const was = before[name]
    const rows = new Map(was?.rows)
    for (const [key, row] of Object.entries(change.rows)) rows.set(key, kept(was?.rows.get(key), row))
    const order = change.order ?? was?.order ?? []
    const now = new Map(order.map((key) => [key, rows.get(key)]))
    const same = was && order.join() === was.order.join() && order.every((key) => now.get(key) === was.rows.get(key))
    if (!same) next[name] = { order, rows: now }
  }
  return next
}

/** The tables as views read them; a table that did not change keeps its array. */
export function shown(tables: Tables, before: Tables, last: Assessment | null): Assessment {
  const found: Record<string, unknown> = {}
  const known = last as unknown as Record<string, unknown> | null
  for (const [name, table] of Object.entries(tables)) {
    const values = [...table.rows.values()]
    found[name] = known && before[name] === table ? known[name] : SINGLE.has(name) ? (values[0] ?? null) : values
  }
  return found as unknown as Assessment
}
