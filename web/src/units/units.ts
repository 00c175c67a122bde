/** The one formatter: SI in, the person's units out. */
export type System = 'metric' | 'imperial'

interface Conversion {
  unit: string
  factor: number
  offset?: number
  digits?: number
}

const IMPERIAL: Readonly<Record<string, Conversion>> = {
  m: { unit: 'ft', factor: 1 / 0.3048 },
  m2: { unit: 'ft²', factor: 1 / 0.09290304, digits: 0 },
  mm: { unit: 'in', factor: 1 / 25.4, digits: 2 },
  mm2: { unit: 'in²', factor: 1 / 645.16, digits: 3 },
  C: { unit: '°F', factor: 1.8, offset: 32, digits: 0 },
}
const SHOWN: Readonly<Record<string, string>> = { C: '°C', m2: 'm²', mm2: 'mm²', ohm: 'Ω', us: 'µs' }

/** A value and unit in the person's system. */
export function convert(value: number, unit: string, system: System): { value: number; unit: string; digits?: number } {
  const to = system === 'imperial' ? IMPERIAL[unit] : undefined
  if (!to) return { value, unit: SHOWN[unit] ?? unit }
  return { value: value * to.factor + (to.offset ?? 0), unit: to.unit, digits: to.digits }
}

/** A value back in SI. */
export function toSi(value: number, unit: string, system: System): number {
  const to = system === 'imperial' ? IMPERIAL[unit] : undefined
  return to ? (value - (to.offset ?? 0)) / to.factor : value
}

/** Formatters by their digits, kept: making one costs far more than using it. */
const FORMATS = new Map<number, Intl.NumberFormat>()
function formatOf(digits: number): Intl.NumberFormat {
  const kept =
    FORMATS.get(digits) ?? new Intl.NumberFormat('en', { minimumFractionDigits: digits, maximumFractionDigits: digits })
  FORMATS.set(digits, kept)
  return kept
}

/** A number with thin grouping and a true minus sign. */
export function number(value: number, digits: number): string {
  return formatOf(digits).format(value).replaceAll(',', '\u202f').replace('-', '\u2212')
}

/** Digits a value needs: as many as it has, two at most. */
export function digitsOf(value: number): number {
  const text = String(Math.round(value * 100) / 100)
  return text.includes('.') ? Math.min(2, text.length - text.indexOf('.') - 1) : 0
}

/** A quantity as text, for example "61.4 m" or "201.4 ft". */
export function quantity(value: number, unit: string, system: System, digits?: number): string {
  const shown = convert(value, unit, system)
  const places = shown.digits ?? digits ?? digitsOf(shown.value)
  return `${number(shown.value, places)}${shown.unit ? `\u00a0${shown.unit}` : ''}`
}

const MARKED = /\[\[(-?[\d.]+)\|([^\]|]*)\]\]/g

/** A sentence of the core with its marked quantities in the person's units, and true minus signs. */
export function sentence(text: string, system: System): string {
  return text
    .replace(MARKED, (_, value: string, unit: string) => {
      const digits = value.includes('.') ? value.length - value.indexOf('.') - 1 : 0
      return quantity(Number(value), unit, system, digits)
    })
    .replace(/(^|[\s(])-(?=\d)/g, '$1\u2212')
}

/** A typed length in metres, or null: "2.4", "2,4", "8'", "7'6", "90in". */
export function parseLength(text: string, system: System): number | null {
  const feet = /^\s*(\d+(?:[.,]\d+)?)\s*(?:'|ft)\s*(?:(\d+(?:[.,]\d+)?)\s*(?:"|in)?)?\s*$/.exec(text)
  if (feet) return plain(feet[1]) * 0.3048 + plain(feet[2] ?? '0') * 0.0254
  const inches = /^\s*(\d+(?:[.,]\d+)?)\s*(?:"|in)\s*$/.exec(text)
  if (inches) return plain(inches[1]) * 0.0254
  const bare = /^\s*(-?\d+(?:[.,]\d+)?)\s*(m?)\s*$/.exec(text)
  if (!bare) return null
  return bare[2] === 'm' ? plain(bare[1]) : toSi(plain(bare[1]), 'm', system)
}

function plain(text: string | undefined): number {
  return Number((text ?? '0').replace(',', '.'))
}
