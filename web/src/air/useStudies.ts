/** Long work on the air: start a study, watch it, stop it. What it found stays on the server. */
import { defineStore } from 'pinia'
import { shallowRef, watch } from 'vue'
import type { StudyAsked, StudyState } from '@/api/schema'
import { api, take } from '@/api/client'
import { useGuarded } from '@/api/useGuarded'
import { useJob } from '@/job/useJob'

export type StudyKind = StudyAsked['study']
export type StudyResult = StudyState['found'][number]
const POLL_MS = 400

export const useStudies = defineStore('studies', () => {
  const job = useJob()
  const all = shallowRef<ReadonlyMap<StudyKind, StudyState>>(new Map())
  const { said: error, guarded } = useGuarded()
  let polling: ReturnType<typeof setTimeout> | undefined

  function keep(study: StudyState): void {
    all.value = new Map(all.value).set(study.asked.study, study)
    clearTimeout(polling)
    if ([...all.value.values()].some((s) => s.state === 'running')) polling = setTimeout(() => void poll(), POLL_MS)
  }
  const poll = () =>
    guarded(async () => {
      for (const study of all.value.values()) {
        if (study.state !== 'running') continue
        const params = { path: { job_id: job.id, study_id: study.id } }
        keep((await take(api.GET('/api/jobs/{job_id}/studies/{study_id}', { params }))) as StudyState)
      }
    })
  const load = () =>
    guarded(async () => {
      const { studies } = await take(api.GET('/api/jobs/{job_id}/studies', { params: { path: { job_id: job.id } } }))
      // What was begun while the list was on its way is newer than the list.
      const begun = new Set(all.value.keys())
      for (const study of studies as StudyState[]) if (!begun.has(study.asked.study)) keep(study)
    })
  const begin = (asked: Partial<StudyAsked> & Pick<StudyAsked, 'study'>) =>
    job.during(() =>
      guarded(async () => {
        await job.mustBeSaved()
        const body: StudyAsked = { storey_ids: [], model: 'ap-ceiling-wifi6-2x2', seconds: 30, ...asked }
        keep(
          (await take(
            api.POST('/api/jobs/{job_id}/studies', { params: { path: { job_id: job.id } }, body }),
          )) as StudyState,
        )
      }),
    )
  const stop = (study: StudyState) =>
    guarded(async () => {
      const params = { path: { job_id: job.id, study_id: study.id } }
      keep((await take(api.DELETE('/api/jobs/{job_id}/studies/{study_id}', { params }))) as StudyState)
    })
  watch(
    () => [job.id, job.loaded] as const,
    ([, loaded]) => {
      clearTimeout(polling)
      all.value = new Map()
      if (loaded) void load()
    },
    { immediate: true },
  )
  return { all, error, begin, stop }
})

/** What a study found, of one kind. */
export function foundOf<K extends StudyResult['found']>(
  study: StudyState | undefined,
  kind: K,
): Extract<StudyResult, { found: K }>[] {
  return (study?.found ?? []).filter((row): row is Extract<StudyResult, { found: K }> => row.found === kind)
}
