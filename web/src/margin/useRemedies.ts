/** Remedies tried on the job by the server before they are pressed: what each cures and what it would bring. */
import { shallowRef, watch } from 'vue'
import type { Finding, TriedAnswer } from '@/api/schema'
import { api, take } from '@/api/client'
import { useJob } from '@/job/useJob'

type Tried = TriedAnswer['remedies'][number]

export function useRemedies(finding: () => Finding) {
  const job = useJob()
  const tried = shallowRef<readonly Tried[]>([])
  let asked = -1
  let trial: Promise<void> = Promise.resolve()

  async function ask(): Promise<void> {
    try {
      const params = { path: { job_id: job.id } }
      const body = { key: finding().key }
      tried.value = (await take(api.POST('/api/jobs/{job_id}/findings/try', { params, body }))).remedies
    } catch {
      // Without the server they stay untried, and can be pressed all the same.
      asked = -1
    }
  }
  /** Ask once a revision; whoever asks while a trial is under way waits for that one. */
  function look(): Promise<void> {
    if (finding().fixes.length && asked !== job.revision) {
      asked = job.revision
      trial = ask()
    }
    return trial
  }
  watch(
    () => job.revision,
    () => {
      tried.value = []
    },
  )
  /** Why a remedy is not to be had, in words; empty for one that holds or was not tried. */
  function against(number: number): string {
    const one = tried.value[number]
    if (!one) return ''
    if (one.refused) return one.refused
    if (one.brings.length) return `would bring: ${one.brings.map((b) => `${b.title} (${b.subject})`).join('; ')}`
    return one.cures ? '' : 'would not cure it'
  }
  return { look, against }
}
