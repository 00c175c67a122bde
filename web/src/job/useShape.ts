/** Drawing actions the server works out: one edit does it, one undo takes it back. */
import { toRef } from 'vue'
import type { ShapeAsked } from '@/api/schema'
import { api, take } from '@/api/client'
import { useGuarded } from '@/api/useGuarded'
import { useJob } from '@/job/useJob'
import type { Operation } from '@/job/types'

export type Action = ShapeAsked['action']

export function useShape() {
  const job = useJob()
  const { busy, guarded } = useGuarded(toRef(job, 'refusal'))

  /** Do an action; what it said is shown as a notice. True when something was done. */
  const run = (label: string, action: Action): Promise<boolean> =>
    job.during(async () => {
      const found = await guarded(async () => {
        await job.mustBeSaved()
        const params = { path: { job_id: job.id } }
        return take(api.POST('/api/jobs/{job_id}/shape', { params, body: { action } }))
      })
      if (!found) return false
      if (found.operations.length) job.edit(label, found.operations as Operation[])
      job.refusal = found.note
      return found.operations.length > 0
    })
  return { run, busy }
}
