/** A moment the server tells in its own clock (UTC), as the person reads it. */
export function when(text: string): string {
  return new Date(`${text}Z`).toLocaleString('en-GB', { dateStyle: 'medium', timeStyle: 'short' })
}
