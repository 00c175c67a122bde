/** What this browser prefers: units, sheet. Kept in the browser; jobs stay in SI. */
import { useLocalStorage } from '@vueuse/core'
import { defineStore } from 'pinia'
import type { System } from '@/units/units'

export const usePreferences = defineStore('preferences', () => {
  const units = useLocalStorage<System>('heathrise.units', 'metric')
  const night = useLocalStorage('heathrise.night', false)
  return { units, night }
})
