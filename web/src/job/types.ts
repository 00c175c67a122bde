/** The nouns as the generated API has them, by short names. */
import type { JobState, Put, Remove } from '@/api/schema'

export type Element = JobState['elements'][number]
export type Kind = Element['kind']
export type Of<K extends Kind> = Extract<Element, { kind: K }>
export type Operation = Put | Remove
export type Band = '2.4' | '5' | '6'
export interface XY { readonly x_m: number; readonly y_m: number }

/** Elements that stand at one place. */
export type Standing = Of<'access-point'> | Of<'device'> | Of<'rack'> | Of<'riser'> | Of<'service-entry'> | Of<'fixture'>

export function isStanding(element: Element | undefined): element is Standing {
  return element !== undefined && 'at' in element
}

export function put(element: Element): Operation {
  return { op: 'put', element } as Operation
}

export function remove(id: string): Operation {
  return { op: 'remove', id }
}
