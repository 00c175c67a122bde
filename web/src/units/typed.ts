/** Numbers as people type them, with either mark. */

/** The number in a text, null where it is none. */
export function numberOf(text: string): number | null {
  const plain = text.trim().replace(',', '.')
  return plain === '' || Number.isNaN(Number(plain)) ? null : Number(plain)
}
