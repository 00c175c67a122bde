/** The library, read once: what a person chooses from, and how each kind and stage is described. */
import { defineStore } from 'pinia'
import { computed, shallowRef } from 'vue'
import type { EquipmentShown, KindShown, LibraryAnswer } from '@/api/schema'
import { api, take } from '@/api/client'
import type { Kind } from '@/job/types'

export type Capability = 'radiates' | 'joins' | 'feeds_through' | 'hangs'

export const useLibrary = defineStore('library', () => {
  const shelves = shallowRef<LibraryAnswer | null>(null)
  async function load(): Promise<void> {
    shelves.value ??= (await take(api.GET('/api/library'))) as LibraryAnswer
  }
  const stages = computed(() => Object.entries(shelves.value?.stages ?? {}).map(([id, stage]) => ({ id, ...stage })))
  const tools = computed(() =>
    Object.entries(shelves.value?.kinds ?? {}).flatMap(([kind, about]) =>
      about.tools.map((tool) => ({ ...tool, kind: kind as Kind })),
    ),
  )

  /** How a kind is described; the library is read before a job is opened. */
  function about(kind: Kind): KindShown {
    const found = shelves.value?.kinds[kind]
    if (!found) throw new Error(`the library does not describe ${kind}`)
    return found
  }
  function model(code: string | null): EquipmentShown | undefined {
    return code ? shelves.value?.equipment[code] : undefined
  }
  function can(code: string | null, what: Capability): boolean {
    return model(code)?.can.includes(what) ?? false
  }
  return { shelves, load, stages, tools, about, model, can }
})
