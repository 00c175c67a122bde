/** The tables of the stages: the library says which columns, the assessment has the rows. */
import type { StageTable, Sum, TableColumn } from '@/api/schema'
import type { Assessment } from '@/job/assessment'

export interface Cell {
  readonly text?: string
  readonly value?: number
  readonly unit?: string
  readonly digits?: number
  readonly bad?: boolean
  readonly sum?: Sum
}
export interface Column {
  readonly key: string
  readonly name: string
  readonly right: boolean
}
export interface Row {
  readonly id: string
  readonly selects: string | null
  readonly cells: Readonly<Record<string, Cell>>
}
export interface Table {
  readonly name: string
  readonly columns: readonly Column[]
  readonly rows: readonly Row[]
  readonly empty: string
}

type Source = Record<string, unknown>
const at = (row: unknown, path: string): unknown =>
  path
    .split('.')
    .reduce<unknown>(
      (value, key) => (typeof value === 'object' && value !== null ? (value as Source)[key] : undefined),
      row,
    )
const isNumber = (value: unknown): value is number => typeof value === 'number'
const rowsOf = (found: Assessment, name: string): readonly Source[] =>
  (found as unknown as Record<string, readonly Source[] | undefined>)[name] ?? []

/** {field} is its value, {field?words} words when it is there, {field|words} words when it is not. */
function written(template: string, row: unknown): string {
  return template.replace(
    /\{([\w.]+)(?:([?|])([^}]*))?\}/g,
    (_, field: string, mark: string | undefined, words = '') => {
      const value = at(row, field)
      const none = value === null || value === undefined || value === '' || value === false || value === 0
      if (mark === '?') return none ? '' : words
      if (none && mark === '|') return words
      return Array.isArray(value) ? value.join(', ') : none && value !== 0 ? '' : String(value)
    },
  )
}

function cell(column: TableColumn, row: Source, found: Assessment): Cell {
  const over = column.bad_over ? at(row, column.bad_over) : undefined
  const number = column.field ? at(row, column.field) : undefined
  const bad =
    (column.bad_unless ? at(row, column.bad_unless) === false : false) ||
    (isNumber(over) && isNumber(number) && number > over)
  if (column.when && !at(row, column.when)) return { text: '' }
  if (column.text) return { text: written(column.text, row), bad }
  if (column.count) return { text: String(Array.isArray(number) ? number.length : 0) }
  if (column.beside) return beside(column, row, found)
  if (!isNumber(number)) return { text: '–', bad }
  if (isNumber(column.none_under) && number < column.none_under) return { text: 'none' }
  return quantity(column, row, number, bad)
}
function quantity(column: TableColumn, row: Source, number: number, bad: boolean): Cell {
  const places = 10 ** column.digits
  // Shares are rounded down: 99.96 % is not all.
  const value = column.percent ? Math.floor(number * 100 * places) / places : number
  const from = column.unit_from ? at(row, column.unit_from) : undefined
  const metres = from === 'm'
  const unit = column.unit_from ? (metres ? 'm' : '') : (column.unit ?? '')
  const sum = column.sum ? (at(row, column.sum) as Sum | undefined) : undefined
  return { value, unit, digits: column.unit_from && !metres ? 0 : column.digits, sum, bad }
}
/** What another table has of the same thing: a sum whose value is shown. */
function beside(column: TableColumn, row: Source, found: Assessment): Cell {
  const where = column.beside
  const other = where ? rowsOf(found, where.table).find((one) => one[where.by] === row[where.by]) : undefined
  const sum = other && where ? (at(other, where.field) as Sum | undefined) : undefined
  return sum ? { value: sum.value, unit: column.unit ?? '', digits: column.digits, sum } : { text: '–' }
}

function selected(table: StageTable, row: Source): string | null {
  const fields = typeof table.selects === 'string' ? [table.selects] : (table.selects ?? [])
  const found = fields.map((field) => row[field]).find((value) => typeof value === 'string')
  return typeof found === 'string' ? found : null
}

/** What a table is made from: its own rows, and those of the tables it looks aside to. */
function sources(table: StageTable, found: Assessment): readonly (readonly Source[])[] {
  const aside = table.columns.flatMap((column) => column.beside?.table ?? [])
  return [table.rows, ...aside].map((name) => rowsOf(found, name))
}

/** A reader of tables that gives the same table, and the same rows, for what did not change: they are not drawn anew. */
export function tableReader(): (table: StageTable, found: Assessment) => Table {
  const known = new Map<
    string,
    { from: readonly (readonly Source[])[]; table: Table; rows: ReadonlyMap<string, Row> }
  >()
  return (table, found) => {
    const from = sources(table, found)
    const last = known.get(table.name)
    if (last && from.every((rows, i) => rows === last.from[i])) return last.table
    const read = tableOf(table, found)
    const rows = read.rows.map((row) => {
      const was = last?.rows.get(row.id)
      return was && JSON.stringify(was) === JSON.stringify(row) ? was : row
    })
    const next = { ...read, columns: last?.table.columns ?? read.columns, rows }
    known.set(table.name, { from, table: next, rows: new Map(rows.map((row) => [row.id, row])) })
    return next
  }
}

/** One table as it is shown. */
export function tableOf(table: StageTable, found: Assessment): Table {
  const only = table.only
  const rows = rowsOf(found, table.rows).filter((row) => !only || [row[only.field]].flat().includes(only.has))
  return {
    name: table.name,
    empty: table.empty,
    columns: table.columns.map((column) => ({
      key: column.key,
      name: column.name,
      right: column.right || !column.text,
    })),
    rows: rows.map((row, number) => ({
      id: String(number),
      selects: selected(table, row),
      cells: Object.fromEntries(table.columns.map((column) => [column.key, cell(column, row, found)])),
    })),
  }
}
