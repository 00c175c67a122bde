/** All ways by which data may reach a thing, asked of the server and asked again when the job changes. */
import { computed, ref, shallowRef, watch } from 'vue'
import type { Way, Ways } from '@/api/schema'
import { api, take } from '@/api/client'
import { useGuarded } from '@/api/useGuarded'
import { useAssessment } from '@/job/useAssessment'
import { useJob } from '@/job/useJob'
import type { Operation } from '@/job/types'
import { useSelection } from '@/job/useSelection'

export function useWays() {
  const job = useJob()
  const selection = useSelection()
  const assessment = useAssessment()
  const { said, busy, guarded } = useGuarded()
  const picked = ref<string | null>(null)
  const found = shallowRef<Ways | null>(null)
  /** Everything on the sheet that the network is to reach: what no plain cable reaches first, then what leaves a house. */
  const things = computed(() => {
    const runs = assessment.found?.runs ?? []
    const over = new Set(runs.filter((run) => !run.holds).map((run) => run.to_id))
    const leaves = new Set(runs.filter((run) => run.environments.includes('outdoor')).map((run) => run.to_id))
    const rank = (id: string): number => (over.has(id) ? 0 : leaves.has(id) ? 1 : 2)
    return (assessment.found?.chains ?? []).toSorted((a, b) => rank(a.element_id) - rank(b.element_id))
  })
  const chosen = computed(() => {
    const known = (id: string | null | undefined) => things.value.some((thing) => thing.element_id === id)
    if (known(selection.element?.id)) return selection.element?.id ?? null
    return known(picked.value) ? picked.value : (things.value[0]?.element_id ?? null)
  })
  function pick(id: string): void {
    picked.value = id
    selection.select(id)
  }
  async function ask(): Promise<void> {
    const to = chosen.value
    if (!to) {
      found.value = null
      return
    }
    // It stays on show when the job changes so that another would come first.
    picked.value = to
    const params = { path: { job_id: job.id }, query: { to } }
    const answer = await guarded(async () => {
      await job.mustBeSaved()
      return take(api.GET('/api/jobs/{job_id}/links/ways', { params }))
    })
    if (answer && to === chosen.value) found.value = answer
  }
  /** Put a way into the job: worked out by the server, one edit, one undo. */
  async function choose(way: Way): Promise<void> {
    const to = chosen.value
    if (!to) return
    const params = { path: { job_id: job.id } }
    await job.during(async () => {
      await guarded(async () => {
        await job.mustBeSaved()
        const body = { to, way: way.code }
        const answer = await take(api.POST('/api/jobs/{job_id}/links/choice', { params, body }))
        job.edit(`${found.value?.label ?? ''}: ${way.label.toLowerCase()}`, answer.operations as Operation[])
      })
    })
  }
  watch([chosen, () => assessment.revision], () => void ask(), { immediate: true })
  return { things, chosen, pick, found, choose, said, busy }
}
