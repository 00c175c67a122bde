/** Cabling by hand: the server says which rack a run starts at and which cable it takes. */
import { api, take } from '@/api/client'
import { useGuarded } from '@/api/useGuarded'
import type { Element } from '@/job/types'
import { useJob } from '@/job/useJob'
import { useSelection } from '@/job/useSelection'

export function useWiring() {
  const job = useJob()
  const selection = useSelection()
  const { said, guarded } = useGuarded()

  /** Run a cable to something, as the planner would: the nearest rack, the practice's cable. */
  async function run(element: Element): Promise<string> {
    return (
      (await guarded(async () => {
        await job.mustBeSaved()
        const params = { path: { job_id: job.id }, query: { to: element.id } }
        const { operations } = await take(api.GET('/api/jobs/{job_id}/runs/suggestion', { params }))
        const first = operations[0]
        if (first?.op !== 'put') return 'Mark a rack first; runs start there.'
        job.edit(`Run a cable to ${element.label}`, operations)
        selection.select(first.element.id)
        return ''
      })) ?? said.value
    )
  }
  return { runTo: (element: Element) => job.during(() => run(element)) }
}
