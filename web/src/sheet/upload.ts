/** Sending a drawing: the server checks it, encodes it again and keeps it. */
import { api, inForm, take } from '@/api/client'
import type { Of } from '@/job/types'

/** The drawing as it was kept, for an underlay to show it. Throws a Refusal, or Unreachable. */
export async function uploadDrawing(jobId: string, storeyId: string, file: File): Promise<Partial<Of<'underlay'>>> {
  const params = { path: { job_id: jobId } }
  const kept = await take(
    api.POST('/api/jobs/{job_id}/pictures', { params, body: inForm(file, file.name, { page: 1 }) }),
  )
  return {
    storey_id: storeyId,
    label: file.name.slice(0, 80) || 'Drawing',
    attachment_id: kept.attachment_id,
    width_px: kept.width_px,
    height_px: kept.height_px,
  }
}
