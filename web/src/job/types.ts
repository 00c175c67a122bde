/** The nouns as the generated API has them, by short names. */
import type { JobState, Put, Remove } from '@/api/schema'

export type Element = JobState['elements'][number]
export type Kind = Element['kind']
export type Of<K extends Kind> = Extract<Element, { kind: K }>
export type Operation = Put | Remove
export type Band = '2.4' | '5' | '6'
export interface XY {
  readonly x_m: number
  readonly y_m: number
}

/** An element with a place of its own on the sheet. */
export type Standing = Element & { readonly standing?: never }

/** Where an element stands on the sheet; null for what is drawn otherwise, or stands in something else. */
export function atOf(element: Element | undefined): XY | null {
  if (!element) return null
  if ('at' in element) return element.at
  return 'place' in element && element.place.where === 'sheet' ? element.place.at : null
}

export function isStanding(element: Element | undefined): element is Standing {
  return atOf(element) !== null
}

/** The same element at another place. */
export function movedTo<T extends Element>(element: T, at: XY): T {
  if ('at' in element) return { ...element, at }
  if ('place' in element && element.place.where === 'sheet') return { ...element, place: { ...element.place, at } }
  return element
}

/** How high an element stands over its storey's floor. [m] */
export function heightOf(element: Element): number {
  if ('place' in element) return element.place.where === 'sheet' ? element.place.height_m : 0
  return 'height_m' in element ? (element.height_m ?? 0) : 0
}

/** The library item an element is of, where it is of one. */
export function modelOf(element: Element): string | null {
  return 'model' in element && typeof element.model === 'string' ? element.model : null
}

export function put(element: Element): Operation {
  return { op: 'put', element } as Operation
}

export function remove(id: string): Operation {
  return { op: 'remove', id }
}
