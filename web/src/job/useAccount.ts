/** Opening the loss account of a place: the sum behind its loudest signal. */
import { api, Refusal, take, Unreachable } from '@/api/client'
import type { Band, XY } from '@/job/types'
import { useJob } from '@/job/useJob'
import { useView } from '@/job/useView'

export function useAccount() {
  const job = useJob()
  const view = useView()
  async function open(at: XY, band: Band = view.band, storeyId: string | undefined = view.storey?.id): Promise<void> {
    if (!storeyId) return
    try {
      const query = { storey_id: storeyId, band, x_m: at.x_m, y_m: at.y_m }
      const { accounts } = await take(api.GET('/api/jobs/{job_id}/air/account', { params: { path: { job_id: job.id }, query } }))
      view.openSum = accounts[0]?.sum ?? null
      view.route = accounts[0]?.way ?? []
      if (!accounts.length) job.refusal = `No access point is on the air at ${band} GHz.`
    } catch (error) {
      if (!(error instanceof Refusal || error instanceof Unreachable)) throw error
      job.refusal = error.message
    }
  }
  return { open }
}
