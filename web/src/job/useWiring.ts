/** Cabling by hand: the server says which rack a run starts at and which cable it takes. */
import { api, Refusal, take, Unreachable } from '@/api/client'
import type { Element } from '@/job/types'
import { useJob } from '@/job/useJob'
import { useView } from '@/job/useView'

export function useWiring() {
  const job = useJob()
  const view = useView()

  /** Run a cable to something, as the planner would: the nearest rack, the practice's cable. */
  async function run(element: Element): Promise<string> {
    if (!(await job.saved())) return 'Earlier edits still wait to be saved. Try again in a moment.'
    try {
      const params = { path: { job_id: job.id }, query: { to: element.id } }
      const { operations } = await take(api.GET('/api/jobs/{job_id}/runs/suggestion', { params }))
      const first = operations[0]
      if (first?.op !== 'put') return 'Mark a rack first; runs start there.'
      job.edit(`Run a cable to ${element.label}`, operations)
      view.select(first.element.id)
      return ''
    } catch (error) {
      if (error instanceof Refusal || error instanceof Unreachable) return error.message
      throw error
    }
  }
  return { runTo: (element: Element) => job.during(() => run(element)) }
}
