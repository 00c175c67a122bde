/** What clashed, in words: the field's own name and both values as a person reads them. */
import type { Clash, FieldShown } from '@/api/schema'

const spoken = (name: string): string => name.replaceAll('_', ' ')

/** What the value is of: the field's label where it has one, else the path as words. */
export function placeOf(clash: Clash, fields: readonly FieldShown[]): string {
  if (!clash.path.length) return clash.via ? 'goes with what you remove' : 'the whole of it'
  const dotted = clash.path.join('.')
  const field = fields.find((one) => one.path === dotted)
  if (field) return field.label
  // A place is one value of two fields.
  const parts = fields.filter((one) => one.path.startsWith(`${dotted}.`)).map((one) => one.label)
  return parts.length ? parts.join(', ') : clash.path.map(spoken).join(' · ')
}

/** A value as words: what a list or a row holds, one after another. */
export function valueOf(value: unknown, clash: Clash): string {
  if (value === null || value === undefined) return clash.path.length ? '–' : 'removed'
  if (!clash.path.length) return 'stays'
  if (typeof value === 'boolean') return value ? 'yes' : 'no'
  if (Array.isArray(value)) return value.length > 3 ? `${value.length} rows` : value.map((v) => leaf(v)).join('; ')
  return leaf(value)
}

function leaf(value: unknown): string {
  if (typeof value === 'number') return String(Number(value.toFixed(2)))
  if (typeof value !== 'object' || value === null) return String(value ?? '–')
  return Object.values(value)
    .filter((part) => part !== null && part !== '')
    .map(leaf)
    .join(', ')
}
