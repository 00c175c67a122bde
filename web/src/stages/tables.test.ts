import { describe, expect, it } from 'vitest'
import type { StageTable } from '@/api/schema'
import type { Assessment } from '@/job/assessment'
import { tableOf, tableReader } from '@/stages/tables'

const column = (key: string, more: object) => ({ key, name: key, digits: 1, right: false, percent: false, ...more })
const RUNS = {
  name: 'Runs',
  rows: 'runs',
  empty: 'No run yet.',
  stages: ['runs'],
  selects: ['run_id'],
  columns: [
    column('run', { text: '{label}' }),
    column('cable', { text: '{cable|any}{screened? screened}' }),
    column('length', { field: 'length_m', unit: 'm', bad_over: 'limit_m' }),
    column('holes', { field: 'holes', count: true }),
    column('load', { unit: '%', beside: { table: 'loads', by: 'run_id', field: 'sum' } }),
  ],
} as unknown as StageTable
const run = (run_id: string, length_m: number, more: object = {}) => ({
  run_id,
  label: run_id.toUpperCase(),
  length_m,
  limit_m: 90,
  holes: ['w1', 'w2'],
  ...more,
})
const found = (runs: unknown[], loads: unknown[] = []): Assessment => ({ runs, loads }) as unknown as Assessment

describe('a table', () => {
  it('is written as the library says', () => {
    const table = tableOf(RUNS, found([run('r-01', 42.26, { screened: true })]))
    expect(table.rows[0]?.cells['run']?.text).toBe('R-01')
    expect(table.rows[0]?.cells['cable']?.text).toBe('any screened')
    expect(table.rows[0]?.cells['length']).toMatchObject({ value: 42.26, unit: 'm', digits: 1, bad: false })
    expect(table.rows[0]?.cells['holes']?.text).toBe('2')
    expect(table.rows[0]?.selects).toBe('r-01')
  })
  it('marks what is over its limit', () => {
    expect(tableOf(RUNS, found([run('r-01', 97)])).rows[0]?.cells['length']?.bad).toBe(true)
  })
  it('looks aside to another table for a sum', () => {
    const sum = { label: 'Load', value: 12 }
    const shown = tableOf(RUNS, found([run('r-01', 1)], [{ run_id: 'r-01', sum }]))
    expect(shown.rows[0]?.cells['load']).toMatchObject({ value: 12, sum })
    expect(tableOf(RUNS, found([run('r-02', 1)])).rows[0]?.cells['load']?.text).toBe('–')
  })
  it('says what is missing when there is no row', () => {
    expect(tableOf(RUNS, found([]))).toMatchObject({ rows: [], empty: 'No run yet.' })
  })
})

describe('a reader of tables', () => {
  it('gives the same table for the same rows, whatever else changed', () => {
    const read = tableReader()
    const rows = [run('r-01', 10)]
    const loads: unknown[] = []
    const first = read(RUNS, found(rows, loads))
    expect(read(RUNS, found(rows, loads))).toBe(first)
    expect(read(RUNS, found([...rows], loads))).not.toBe(first)
  })
  it('gives the same row for what reads the same, and another for what does not', () => {
    const read = tableReader()
    const first = read(RUNS, found([run('r-01', 10), run('r-02', 20)]))
    const next = read(RUNS, found([run('r-01', 10), run('r-02', 21)]))
    expect(next.rows[0]).toBe(first.rows[0])
    expect(next.rows[1]).not.toBe(first.rows[1])
    expect(next.columns).toBe(first.columns)
  })
  it('reads anew when a table it looks aside to changed', () => {
    const read = tableReader()
    const rows = [run('r-01', 10)]
    read(RUNS, found(rows))
    const next = read(RUNS, found(rows, [{ run_id: 'r-01', sum: { value: 3 } }]))
    expect(next.rows[0]?.cells['load']?.value).toBe(3)
  })
})
