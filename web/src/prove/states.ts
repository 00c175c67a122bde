/** How what is proven stands: a sign, a word, a class of ink. */
export const STATES: Readonly<Record<string, readonly [mark: string, words: string, ink: string]>> = {
  pass: ['✓', 'pass', 'holds'],
  marginal: ['◇', 'pass, by little', 'warning'],
  fail: ['▲', 'fails', 'fault'],
  none: ['○', 'no record', 'quiet'],
  other: ['◇', 'tested otherwise', 'warning'],
  holds: ['✓', 'as planned', 'holds'],
  differs: ['▲', 'differs', 'fault'],
  part: ['◇', 'in part', 'warning'],
}
