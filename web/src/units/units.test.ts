import { describe, expect, it } from 'vitest'
import { parseLength, quantity, sentence, toSi } from '@/units/units'

describe('quantity', () => {
  it.each([
    [61.4, 'm', 'metric', '61.4\u00a0m'],
    [61.4, 'm', 'imperial', '201.44\u00a0ft'],
    [38, 'C', 'imperial', '100\u00a0°F'],
    [-67, 'dBm', 'metric', '\u221267\u00a0dBm'],
    [6480, '', 'metric', '6\u202f480'],
    [26.6, 'mm', 'imperial', '1.05\u00a0in'],
  ] as const)('writes %s %s in %s as %s', (value, unit, system, expected) => {
    expect(quantity(value, unit, system)).toBe(expected)
  })
})

describe('sentence', () => {
  it('turns every marked quantity and leaves the rest', () => {
    const text = 'Run R-14 is [[96.0|m]]; the limit at [[38|C]] is [[84.0|m]].'
    expect(sentence(text, 'metric')).toBe('Run R-14 is 96.0\u00a0m; the limit at 38\u00a0°C is 84.0\u00a0m.')
    expect(sentence(text, 'imperial')).toBe('Run R-14 is 315.0\u00a0ft; the limit at 100\u00a0°F is 275.6\u00a0ft.')
  })

  it('writes a true minus before a number, and leaves hyphens and ranges', () => {
    expect(sentence('from Foyer -72.1 dB (-3) on ports 4-5, Wi-Fi', 'metric')).toBe(
      'from Foyer \u221272.1 dB (\u22123) on ports 4-5, Wi-Fi',
    )
  })
})

describe('parseLength', () => {
  it.each([
    ['2.4', 'metric', 2.4],
    ['2,4', 'metric', 2.4],
    ['10', 'imperial', 3.048],
    ["7'6", 'metric', 2.286],
    ['90 in', 'metric', 2.286],
    ['3 m', 'imperial', 3],
  ] as const)('reads %s in %s', (text, system, metres) => {
    expect(parseLength(text, system)).toBeCloseTo(metres, 6)
  })
  it.each(['', 'abc', '2.4.1', '--3'])('refuses %s', (text) => {
    expect(parseLength(text, 'metric')).toBeNull()
  })
})

describe('toSi', () => {
  it('undoes the conversion', () => {
    expect(toSi(100.4, 'C', 'imperial')).toBeCloseTo(38, 6)
    expect(toSi(5, 'W', 'imperial')).toBe(5)
  })
})
