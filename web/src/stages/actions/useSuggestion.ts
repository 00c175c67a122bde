/** Asking the planner for an edit and making it; says so when there is nothing to do. */
import { toRef } from 'vue'
import { useGuarded } from '@/api/useGuarded'
import type { Operation } from '@/job/types'
import { useJob } from '@/job/useJob'

export function useSuggestion() {
  const job = useJob()
  const { busy, guarded } = useGuarded(toRef(job, 'refusal'))
  const suggest = (ask: () => Promise<{ operations: Operation[] }>, label: string, none: string): Promise<void> =>
    job.during(async () => {
      const found = await guarded(async () => {
        await job.mustBeSaved()
        return ask()
      })
      if (found?.operations.length) job.edit(label, found.operations)
      else if (found) job.refusal = none
    })
  return { busy, suggest }
}
