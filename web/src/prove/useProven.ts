/** Everything of stage 10, and writing to it: what is written here is a record, kept on this device until the server has it. */
import { defineStore } from 'pinia'
import { computed, effectScope, shallowRef, watch } from 'vue'
import { api, Left, take } from '@/api/client'
import type { Proven } from '@/api/schema'
import { wordsOf } from '@/api/useGuarded'
import { useAssessment } from '@/job/useAssessment'
import { useJob } from '@/job/useJob'
import { useView } from '@/job/useView'
import { useRecords, type Written } from '@/site/useRecords'

/** One for all panels of the stage: they show one answer, and write with one name. */
export const useProven = defineStore('proven', () => {
  const job = useJob()
  const assessment = useAssessment()
  const view = useView()
  const found = shallowRef<Proven | null>(null)
  const said = shallowRef('')
  let asked = 0
  async function look(): Promise<void> {
    const [mine, jobId] = [++asked, job.id]
    if (!jobId) return
    try {
      const answer = await take(api.GET('/api/jobs/{job_id}/prove', { params: { path: { job_id: jobId } } }))
      if (mine === asked && jobId === job.id) found.value = answer
      said.value = ''
    } catch (error) {
      // Whoever left is somewhere else by now.
      if (!(error instanceof Left)) said.value = wordsOf(error)
    }
  }
  const scope = effectScope(true)
  const records = scope.run(() =>
    useRecords(
      () => job.id,
      () => job.doubted(),
    ),
  ) as ReturnType<typeof useRecords>
  scope.run(() =>
    watch(
      () => [job.id, assessment.revision, view.stage] as const,
      ([id], before) => {
        if (id !== before?.[0]) {
          found.value = null
          void records.look().then(records.send)
        }
        // What nobody looks at is not asked for: an edit in another stage costs nothing here.
        if (view.stage === 'prove') void look()
      },
      { immediate: true },
    ),
  )
  const name = computed(() => records.me.value)
  async function write(...written: Written[]): Promise<boolean> {
    return records.write(written)
  }
  return { found, said, records, name, look, write }
})
