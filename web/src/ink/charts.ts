/** Charts in the sheet's own type. */
import { Chart, registerables } from 'chart.js'

Chart.register(...registerables)
Chart.defaults.font.family = "'Atkinson Hyperlegible Next', sans-serif"
Chart.defaults.font.size = 12
export { Chart }

/** A colour of the sheet as it is now, day or night. */
export function ink(name: string): string {
  return getComputedStyle(document.documentElement).getPropertyValue(name).trim()
}
