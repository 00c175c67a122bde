import type { Assessment } from '@/job/assessment'
import { ink, type ChartConfiguration } from '@/ink/charts'

type Walked = Assessment['walks'][number]

/** A walk as a strip chart; `hover` is told which step is pointed at. */
export function walkStrip(played: Walked, hover: (step: number) => void): ChartConfiguration {
  const samples = played.samples
  const digits = played.duration_s < 12 ? 1 : 0
  const loudest = Math.max(...samples.map((s) => s.best_dbm))
  const line = (
    label: string,
    of: (s: (typeof samples)[number]) => number,
    colour: string,
    width: number,
    dash: number[] = [],
  ) => ({
    label,
    data: samples.map((s) => (of(s) < -120 ? null : of(s))),
    borderColor: ink(colour),
    borderWidth: width,
    borderDash: dash,
    pointRadius: 0,
  })
  return {
    type: 'line',
    data: {
      labels: samples.map((s) => s.at_s.toFixed(0)),
      datasets: [
        line('in use', (s) => s.used_dbm, '--heather', 2.4),
        line('best', (s) => s.best_dbm, '--ink', 1),
        line('second', (s) => s.second_dbm, '--ink-quiet', 1, [5, 3]),
        line('third', (s) => s.third_dbm, '--ink-quiet', 1, [1, 3]),
        line('need', () => played.need_dbm, '--rust', 1, [8, 4]),
      ],
    },
    options: {
      interaction: { mode: 'index', intersect: false },
      onHover: (_event, hits) => {
        const first = hits[0]
        if (first) hover(first.index)
      },
      scales: {
        x: {
          ticks: {
            color: ink('--ink-quiet'),
            maxTicksLimit: 12,
            callback: (_v, i) => `${samples[i]?.at_s.toFixed(digits)} s`,
          },
          grid: { display: false },
        },
        y: {
          min: -95,
          max: Math.max(-35, Math.ceil(loudest / 10) * 10),
          ticks: { color: ink('--ink-quiet'), callback: (v) => `−${-Number(v)}` },
          grid: { color: ink('--rule') },
        },
      },
      plugins: {
        legend: { position: 'right', labels: { color: ink('--ink'), boxWidth: 18, boxHeight: 1 } },
        tooltip: { enabled: false },
      },
    },
  }
}
