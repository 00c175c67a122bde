/** Which of the air is looked at: band, layer and way, what is laid beside it, and the walk that is played. */
import { defineStore } from 'pinia'
import { ref, shallowRef } from 'vue'
import type { Offer } from '@/api/schema'
import type { Band } from '@/job/types'

/** A layer of the air by its name in the library. */
export type Signal = string
/** What is laid beside the design: a variant, or straight rays; half and half, or as a difference. */
export interface Compare {
  readonly id: string
  readonly how: 'split' | 'difference'
}
export type Way = 'weaker' | 'down' | 'up'

export const useAirView = defineStore('air-view', () => {
  const band = ref<Band>('5')
  const signal = ref<Signal>('best')
  const way = ref<Way>('weaker')
  /** The point that is looked at as if it had failed. */
  const failed = ref<string | null>(null)
  const compare = shallowRef<Compare | null>(null)
  const split = ref(0.5)
  /** Points a plan would place, shown before it is used. */
  const ghosts = shallowRef<Offer['placement']['points'] | null>(null)
  const walk = ref<string | null>(null)
  const walkStep = ref(0)
  return { band, signal, way, failed, compare, split, ghosts, walk, walkStep }
})
