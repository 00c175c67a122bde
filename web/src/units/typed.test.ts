import { describe, expect, it } from 'vitest'
import { numberOf } from '@/units/typed'

describe('numbers as people type them', () => {
  it.each([
    ['41,5', 41.5],
    [' 41.5 ', 41.5],
    ['-3', -3],
    ['0', 0],
    ['', null],
    ['  ', null],
    ['about 40', null],
  ])('%j is %j', (text, number) => {
    expect(numberOf(text)).toBe(number)
  })
})
