/** A moment the server tells as the person reads it. */
export function when(text: string): string {
  return new Date(text).toLocaleString('en-GB', { dateStyle: 'medium', timeStyle: 'short' })
}

/** A moment's day, as the person reads it. */
export function day(text: string): string {
  return new Date(text).toLocaleDateString('en-GB', { dateStyle: 'medium' })
}
