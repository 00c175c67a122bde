/** Asking the planner for an edit and making it; says so when there is nothing to do. */
import { ref } from 'vue'
import { Refusal, Unreachable } from '@/api/client'
import type { Operation } from '@/job/types'
import { useJob } from '@/job/useJob'

export function useSuggestion() {
  const job = useJob()
  const busy = ref(false)
  const suggest = (ask: () => Promise<{ operations: Operation[] }>, label: string, none: string): Promise<void> => job.during(async () => {
    busy.value = true
    try {
      if (!(await job.saved())) throw new Unreachable('Earlier edits still wait to be saved. Try again in a moment.')
      const { operations } = await ask()
      if (operations.length) job.edit(label, operations)
      else job.refusal = none
    } catch (error) {
      if (!(error instanceof Refusal || error instanceof Unreachable)) throw error
      job.refusal = error.message
    } finally {
      busy.value = false
    }
  })
  return { busy, suggest }
}
