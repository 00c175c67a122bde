/** The library, read once. */
import { defineStore } from 'pinia'
import { shallowRef } from 'vue'
import type { LibraryAnswer } from '@/api/schema'
import { api, take } from '@/api/client'

export const useLibrary = defineStore('library', () => {
  const shelves = shallowRef<LibraryAnswer | null>(null)
  async function load(): Promise<void> {
    shelves.value ??= (await take(api.GET('/api/library'))) as LibraryAnswer
  }
  return { shelves, load }
})
