/** The library, read once, with what the open job has of its own: what a person chooses from, and how each kind and
 *  stage is described. */
import { defineStore } from 'pinia'
import { computed, shallowRef } from 'vue'
import type { EquipmentShown, KindShown, LibraryAnswer } from '@/api/schema'
import { api, take } from '@/api/client'
import type { Kind } from '@/job/types'
import { useAssessment } from '@/job/useAssessment'

export type Capability = 'radiates' | 'joins' | 'feeds_through' | 'hangs'

export const useLibrary = defineStore('library', () => {
  const read = shallowRef<LibraryAnswer | null>(null)
  const assessment = useAssessment()
  /** What the open job lays over the library, by code. */
  const own = computed(() => assessment.found?.own ?? null)
  const shelves = computed<LibraryAnswer | null>(() => {
    const base = read.value
    if (!base || !own.value) return base
    return {
      ...base,
      build_ups: { ...base.build_ups, ...own.value.build_ups },
      equipment: { ...base.equipment, ...own.value.equipment },
      patterns: { ...base.patterns, ...own.value.patterns },
    }
  })
  async function load(): Promise<void> {
    read.value ??= (await take(api.GET('/api/library'))) as LibraryAnswer
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
  return { shelves, read, load, stages, tools, about, model, can }
})
