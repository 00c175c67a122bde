import { usePreferences } from '@/units/preferences'
import * as units from '@/units/units'

/** Formatting bound to what this browser prefers; use in templates. */
export function useUnits() {
  const preferences = usePreferences()
  return {
    quantity: (value: number, unit: string, digits?: number) => units.quantity(value, unit, preferences.units, digits),
    sentence: (text: string) => units.sentence(text, preferences.units),
    convert: (value: number, unit: string) => units.convert(value, unit, preferences.units),
    toSi: (value: number, unit: string) => units.toSi(value, unit, preferences.units),
    parseLength: (text: string) => units.parseLength(text, preferences.units),
  }
}
