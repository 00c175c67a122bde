/** Charts in the sheet's own type, with the parts of the library that are used. */
import {
  BarController,
  BarElement,
  CategoryScale,
  Chart,
  Legend,
  LinearScale,
  LineController,
  LineElement,
  PointElement,
  ScatterController,
  Tooltip,
} from 'chart.js'
import type { ChartConfiguration as Config } from 'chart.js'

Chart.register(
  BarController,
  BarElement,
  CategoryScale,
  Legend,
  LinearScale,
  LineController,
  LineElement,
  PointElement,
  ScatterController,
  Tooltip,
)
Chart.defaults.font.family = "'Atkinson Hyperlegible Next', sans-serif"
Chart.defaults.font.size = 12
Chart.defaults.animation = false
Chart.defaults.responsive = true
Chart.defaults.maintainAspectRatio = false
export { Chart }
/** What the sheet's charts are made from. */
export type ChartConfiguration = Config<'line' | 'bar' | 'scatter'>

/** A colour of the sheet as it is now, day or night. */
export function ink(name: string): string {
  return getComputedStyle(document.documentElement).getPropertyValue(name).trim()
}
