/** Opening the loss account of a place: the sum behind its loudest signal. */
import { toRef } from 'vue'
import { api, take } from '@/api/client'
import { useGuarded } from '@/api/useGuarded'
import type { Band, XY } from '@/job/types'
import { useJob } from '@/job/useJob'
import { useAirView } from '@/air/useAirView'
import { useView } from '@/job/useView'

export function useAccount() {
  const job = useJob()
  const view = useView()
  const airView = useAirView()
  const { guarded } = useGuarded(toRef(job, 'refusal'))
  async function open(
    at: XY,
    band: Band = airView.band,
    storeyId: string | undefined = view.storey?.id,
  ): Promise<void> {
    if (!storeyId) return
    await guarded(async () => {
      const query = { storey_id: storeyId, band, x_m: at.x_m, y_m: at.y_m }
      const { accounts } = await take(
        api.GET('/api/jobs/{job_id}/air/account', { params: { path: { job_id: job.id }, query } }),
      )
      view.openSum = accounts[0]?.sum ?? null
      view.route = accounts[0]?.way ?? []
      if (!accounts.length) job.refusal = `No access point is on the air at ${band} GHz.`
    })
  }
  return { open }
}
