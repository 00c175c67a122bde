/** An answer of the server that follows the job: asked at once and again whenever what was computed changes. */
import { shallowRef, watch, type ShallowRef, type WatchSource } from 'vue'
import { useGuarded } from '@/api/useGuarded'
import { useLatest } from '@/api/useLatest'
import { useAssessment } from '@/job/useAssessment'

export function useAsked<T>(
  ask: () => Promise<T> | null,
  also: WatchSource[] = [],
): { found: ShallowRef<T | null> } & Pick<ReturnType<typeof useGuarded>, 'said' | 'busy'> {
  const assessment = useAssessment()
  const { said, busy, guarded } = useGuarded()
  const found: ShallowRef<T | null> = shallowRef(null)
  // What is asked while an answer is on its way is asked after it: an old answer never lies over a newer one.
  const { latest } = useLatest<null, T | null>(
    async () => {
      const asked = ask()
      return asked ? ((await guarded(() => asked)) ?? found.value) : null
    },
    (answer) => {
      found.value = answer
    },
  )
  watch([() => assessment.revision, ...also], () => void latest(null), { immediate: true })
  return { found, said, busy }
}
