/** One place for what the server refuses and for connections that are lost: the person reads the words. */
import { ref, type Ref } from 'vue'
import { Left, Refusal, Unreachable } from '@/api/client'

/** What a person is told of an error; one that is neither a refusal nor a lost connection is thrown on. */
export function wordsOf(error: unknown): string {
  if (error instanceof Refusal || error instanceof Unreachable) return error.message
  throw error
}

/** Guard calls to the server: what goes wrong is said in `said`, and `busy` tells that one is under way. */
export function useGuarded(said: Ref<string> = ref('')) {
  const busy = ref(false)
  async function guarded<T>(work: () => Promise<T>): Promise<T | undefined> {
    said.value = ''
    busy.value = true
    try {
      return await work()
    } catch (error) {
      // Whoever left is somewhere else by now.
      if (!(error instanceof Left)) said.value = wordsOf(error)
      return undefined
    } finally {
      busy.value = false
    }
  }
  return { said, busy, guarded }
}
