/** Sending a drawing: the server checks it, encodes it again and keeps it. */
import type { PictureAnswer } from '@/api/schema'
import { refuse, Unreachable } from '@/api/client'
import type { Of } from '@/job/types'

/** The drawing as it was kept, for an underlay to show it. */
export async function uploadDrawing(jobId: string, storeyId: string, file: File): Promise<Partial<Of<'underlay'>>> {
  const form = new FormData()
  form.append('file', file)
  let response: Response
  try {
    response = await fetch(`/api/jobs/${jobId}/pictures`, { method: 'POST', body: form })
  } catch {
    throw new Unreachable('The server was not reached; the drawing was not sent. Try again.')
  }
  const body: unknown = await response.json().catch(() => null)
  if (!response.ok) refuse(response, body)
  const kept = body as PictureAnswer
  return { storey_id: storeyId, label: file.name.slice(0, 80) || 'Drawing', attachment_id: kept.attachment_id, width_px: kept.width_px, height_px: kept.height_px }
}
