/** What the core computed of the open job; asked again whenever a revision was kept. */
import { defineStore } from 'pinia'
import { computed, ref, shallowRef, watch } from 'vue'
import type { Assessment } from '@/api/schema'
import { api, Refusal, take, Unreachable } from '@/api/client'
import { useJob } from '@/job/useJob'

export const useAssessment = defineStore('assessment', () => {
  const job = useJob()
  const found = shallowRef<Assessment | null>(null)
  const revision = ref(-1)
  const busy = ref(false)
  let calling: AbortController | undefined

  async function refresh(): Promise<void> {
    calling?.abort()
    const mine = (calling = new AbortController())
    busy.value = true
    try {
      const params = { path: { job_id: job.id } }
      const answer = await take(api.GET('/api/jobs/{job_id}/assessment', { params, signal: mine.signal }))
      found.value = answer.assessment
      revision.value = answer.revision
    } catch (error) {
      const expected = error instanceof DOMException || error instanceof Unreachable || error instanceof Refusal
      if (!expected) throw error
    } finally {
      if (calling === mine) busy.value = false
    }
  }
  watch(() => [job.id, job.revision, job.loaded] as const, ([, , loaded]) => {
    if (loaded) void refresh()
    else found.value = null
  })

  const findings = computed(() => found.value?.findings ?? [])
  const open = computed(() => findings.value.filter((finding) => !finding.accepted))
  const runs = computed(() => new Map(found.value?.runs.map((run) => [run.run_id, run])))
  const spaces = computed(() => new Map(found.value?.spaces.map((space) => [space.space_id, space])))
  return { found, revision, busy, findings, open, runs, spaces, refresh }
})
