/** Drawing actions the server works out: one edit does it, one undo takes it back. */
import { ref } from 'vue'
import type { ShapeAsked } from '@/api/schema'
import { api, Refusal, take, Unreachable } from '@/api/client'
import { useJob } from '@/job/useJob'
import type { Operation } from '@/job/types'

export type Action = ShapeAsked['action']

export function useShape() {
  const job = useJob()
  const busy = ref(false)

  /** Do an action; what it said is shown beside the tools. True when something was done. */
  const run = (label: string, action: Action): Promise<boolean> => job.during(async () => {
    busy.value = true
    try {
      if (!(await job.saved())) throw new Unreachable('Earlier edits still wait to be saved. Try again in a moment.')
      const params = { path: { job_id: job.id } }
      const found = await take(api.POST('/api/jobs/{job_id}/shape', { params, body: { action } }))
      if (found.operations.length) job.edit(label, found.operations as Operation[])
      job.refusal = found.note
      return found.operations.length > 0
    } catch (error) {
      if (!(error instanceof Refusal || error instanceof Unreachable)) throw error
      job.refusal = error.message
      return false
    } finally {
      busy.value = false
    }
  })
  return { run, busy }
}
