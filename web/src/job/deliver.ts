/** Send one waiting edit and say what became of it. */
import type { EditAnswer } from '@/api/schema'
import { api, Refusal, take, Unreachable, type Problem } from '@/api/client'
import type { Waiting } from '@/job/queue'

export type Outcome =
  | { readonly is: 'kept'; readonly answer: EditAnswer }
  /** Not now: sent again. `ours` when the server made a mistake over it. */
  | { readonly is: 'later'; readonly why: string; readonly ours: boolean }
  | { readonly is: 'clash'; readonly problem: Problem }
  | { readonly is: 'gone'; readonly how: 'bin' | 'deleted' }
  /** There was nothing to undo or redo. */
  | { readonly is: 'nothing'; readonly why: string }
  | { readonly is: 'refused'; readonly why: string }

const LATER = new Set([408, 425, 429])

function sent(edit: Waiting, known: number): Promise<EditAnswer> {
  const params = { path: { job_id: edit.jobId } }
  const common = {
    edit_id: edit.editId,
    actor: edit.actor,
    known_revision: Math.max(known, 0),
    choices: [...edit.choices],
  }
  if (edit.way !== 'edit') {
    const call = { params, body: { ...common, target: edit.target ?? null } }
    return take(
      edit.way === 'undo' ? api.POST('/api/jobs/{job_id}/undo', call) : api.POST('/api/jobs/{job_id}/redo', call),
    )
  }
  const body = {
    ...common,
    label: edit.label,
    base_revision: Math.max(edit.baseRevision, 0),
    operations: [...edit.operations],
    seen: [...edit.seen],
    absent: [...edit.absent],
  }
  return take(api.POST('/api/jobs/{job_id}/edits', { params, body }))
}

function meaning(problem: Problem, edit: Waiting): Outcome {
  const { status, detail, why } = problem
  if (status === 404 || status === 410) return { is: 'gone', how: why === 'bin' ? 'bin' : 'deleted' }
  if (status === 409 && why === 'clash') return { is: 'clash', problem }
  if (status === 409 && edit.way !== 'edit') return { is: 'nothing', why: detail }
  if (status >= 500) return { is: 'later', why: detail, ours: true }
  if (LATER.has(status)) return { is: 'later', why: detail, ours: false }
  return { is: 'refused', why: detail }
}

/** Send an edit, or ask for an undo; the answer tells what was done since the revision `known` here. */
export async function deliver(edit: Waiting, known: number): Promise<Outcome> {
  try {
    return { is: 'kept', answer: await sent(edit, known) }
  } catch (error) {
    if (error instanceof Unreachable) return { is: 'later', why: error.message, ours: false }
    if (error instanceof Refusal) return meaning(error.problem, edit)
    throw error
  }
}
