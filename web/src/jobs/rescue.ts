/** Jobs in and out of the bin and of files, where a list or an open window needs it. */
import { api, take } from '@/api/client'
import envelope from '@/api/jobfile.json'
import type { Element } from '@/job/types'

/** A job file of what is on the screen. */
export function savedHere(name: string, elements: readonly Element[]): Blob {
  return new Blob([JSON.stringify({ ...envelope, name, elements }, null, 1)], { type: 'application/json' })
}

/** Make a job of a job file; its id. */
export async function bringIn(file: Blob): Promise<string> {
  const made = await take(
    api.POST('/api/import', {
      body: file as never,
      bodySerializer: (body: unknown) => body as Blob,
      headers: { 'Content-Type': 'application/json' },
    }),
  )
  return made.id
}

/** Calls that answer with nothing: done, or thrown. */
async function done(call: Promise<{ data?: unknown; error?: unknown; response: Response }>): Promise<void> {
  await take(call.then((result) => ({ ...result, data: result.response.ok ? true : undefined })))
}

export function putBack(jobId: string): Promise<void> {
  return done(api.POST('/api/bin/{job_id}/back', { params: { path: { job_id: jobId } } }))
}
export function putInBin(jobId: string): Promise<void> {
  return done(api.DELETE('/api/jobs/{job_id}', { params: { path: { job_id: jobId } } }))
}
export function forget(jobId: string): Promise<void> {
  return done(api.DELETE('/api/bin/{job_id}', { params: { path: { job_id: jobId } } }))
}

export function change(jobId: string, body: { name?: string; archived?: boolean }): Promise<void> {
  return done(
    api.PATCH('/api/jobs/{job_id}', {
      params: { path: { job_id: jobId } },
      body: { name: body.name ?? null, archived: body.archived ?? null },
    }),
  )
}
/** A job of its own of a job as it stands; its id. */
export async function duplicate(jobId: string): Promise<string> {
  return (await take(api.POST('/api/jobs/{job_id}/copy', { params: { path: { job_id: jobId } } }))).id
}
