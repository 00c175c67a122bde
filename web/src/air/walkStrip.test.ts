import { describe, expect, it, vi } from 'vitest'
import { walkStrip } from '@/air/walkStrip'
import type { Assessment } from '@/job/assessment'

type Walked = Assessment['walks'][number]
const walked = (levels: number[], duration_s = 30): Walked =>
  ({
    need_dbm: -67,
    duration_s,
    samples: levels.map((level, i) => ({
      at_s: i * 1.5,
      used_dbm: level,
      best_dbm: level,
      second_dbm: level - 8,
      third_dbm: -150,
    })),
  }) as unknown as Walked

describe('a walk as a strip', () => {
  it('leaves a gap where nothing is heard', () => {
    const strip = walkStrip(walked([-60, -140, -62]), vi.fn())
    expect(strip.data.datasets[0]?.data).toEqual([-60, null, -62])
    expect(strip.data.datasets[3]?.data).toEqual([null, null, null])
  })
  it('draws the need through its whole length', () => {
    const strip = walkStrip(walked([-60, -61]), vi.fn())
    expect(strip.data.datasets.at(-1)?.data).toEqual([-67, -67])
  })
  it('makes room for a signal louder than usual', () => {
    const top = (levels: number[]) => (walkStrip(walked(levels), vi.fn()).options?.scales?.['y'] as { max: number }).max
    expect([top([-60]), top([-21])]).toEqual([-35, -20])
  })
  it('says the step that is pointed at', () => {
    const hover = vi.fn()
    const strip = walkStrip(walked([-60, -61]), hover)
    const point = strip.options?.onHover as unknown as (event: unknown, hits: { index: number }[]) => void
    point({}, [])
    point({}, [{ index: 1 }])
    expect(hover.mock.calls).toEqual([[1]])
  })
})
