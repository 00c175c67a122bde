/** The failure that is looked at: what it erases and cuts off is marked on the sheet. */
import { defineStore } from 'pinia'
import { computed, shallowRef } from 'vue'
import type { FailureOf } from '@/api/schema'

export const useFailing = defineStore('failing', () => {
  const shown = shallowRef<FailureOf | null>(null)
  const erased = computed(() => new Set(shown.value?.erased))
  const cut = computed(() => new Set(shown.value?.cut))
  const lost = computed(() => new Set(shown.value?.spaces.filter((space) => space.lost).map((space) => space.space_id)))
  function show(failure: FailureOf): void {
    shown.value = shown.value?.code === failure.code ? null : failure
  }
  return { shown, erased, cut, lost, show }
})
