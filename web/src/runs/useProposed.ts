/** The pathway that is looked at before it is made: drawn on the sheet as a dashed road. */
import { defineStore } from 'pinia'
import { shallowRef } from 'vue'
import type { PathwayToMake } from '@/api/schema'

export const useProposed = defineStore('proposed', () => {
  const shown = shallowRef<PathwayToMake | null>(null)
  function show(proposal: PathwayToMake | null): void {
    shown.value = shown.value?.key === proposal?.key ? null : proposal
  }
  return { shown, show }
})
