/** What the core computed of the open job: after an edit only the rows that changed travel. */
import { defineStore } from 'pinia'
import { computed, ref, shallowRef, watch } from 'vue'
import type { AssessmentAnswer } from '@/api/schema'
import { api, Left, Refusal, take, Unreachable } from '@/api/client'
import { shown, taken, type Assessment, type Tables } from '@/job/assessment'
import { useJob } from '@/job/useJob'

const RETRY_MS = 2000

export const useAssessment = defineStore('assessment', () => {
  const job = useJob()
  const found = shallowRef<Assessment | null>(null)
  const revision = ref(-1)
  const busy = ref(false)
  /** The tables on show: they are asked for first, the rest follows. */
  const first = ref<readonly string[]>([])
  let tables: Tables = {}
  let calling: AbortController | undefined
  let retry: ReturnType<typeof setTimeout> | undefined

  async function fetched(names: readonly string[], mine: AbortController): Promise<number> {
    const query = { since: revision.value < 0 ? undefined : revision.value, tables: names.join(',') || undefined }
    const params = { path: { job_id: job.id }, query }
    const answer = await take(api.GET('/api/jobs/{job_id}/assessment', { params, signal: mine.signal }))
    const before = answer.since === null ? {} : tables
    tables = taken(before, answer.tables as AssessmentAnswer['tables'])
    if (names.length === 0 || found.value) found.value = shown(tables, before, found.value)
    return answer.revision
  }
  async function refresh(): Promise<void> {
    calling?.abort()
    clearTimeout(retry)
    const mine = (calling = new AbortController())
    busy.value = true
    try {
      if (found.value && first.value.length) await fetched(first.value, mine)
      revision.value = await fetched([], mine)
    } catch (error) {
      if (error instanceof Left) return
      if (error instanceof Unreachable) retry = setTimeout(() => void refresh(), RETRY_MS)
      else if (!(error instanceof DOMException || error instanceof Refusal)) throw error
    } finally {
      if (calling === mine) busy.value = false
    }
  }
  function forget(): void {
    found.value = null
    tables = {}
    revision.value = -1
  }
  watch([() => job.id, () => job.revision, () => job.loaded], ([id, , loaded], [before]) => {
    if (id !== before || !loaded) forget()
    if (loaded) void refresh()
  })

  const findings = computed(() => found.value?.findings ?? [])
  const open = computed(() => findings.value.filter((finding) => !finding.accepted))
  const runs = computed(() => new Map(found.value?.runs.map((run) => [run.run_id, run])))
  const spaces = computed(() => new Map(found.value?.spaces.map((space) => [space.space_id, space])))
  return { found, revision, busy, first, findings, open, runs, spaces, refresh }
})
