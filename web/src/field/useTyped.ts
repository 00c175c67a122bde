/** What is typed at a task and not kept yet, on this device, until it is kept. */
import { useLocalStorage } from '@vueuse/core'
import { computed, type WritableComputedRef } from 'vue'

type Typed = Record<string, string>

export function useTyped(key: () => string): Record<'note' | 'number' | 'serial', WritableComputedRef<string>> {
  const all = useLocalStorage<Typed>('heathrise.typed', {})
  const field = (name: string): WritableComputedRef<string> =>
    computed({
      get: () => all.value[`${key()} ${name}`] ?? '',
      set: (text) => {
        const others = Object.entries(all.value).filter(([at]) => at !== `${key()} ${name}`)
        all.value = Object.fromEntries(text ? [...others, [`${key()} ${name}`, text]] : others)
      },
    })
  return { note: field('note'), number: field('number'), serial: field('serial') }
}
