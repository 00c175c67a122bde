/** An answer of the server that follows the job: asked at once and again whenever what was computed changes. */
import { shallowRef, watch, type ShallowRef, type WatchSource } from 'vue'
import { useGuarded } from '@/api/useGuarded'
import { useAssessment } from '@/job/useAssessment'

export function useAsked<T>(
  ask: () => Promise<T> | null,
  also: WatchSource[] = [],
): { found: ShallowRef<T | null>; said: ReturnType<typeof useGuarded>['said'] } {
  const assessment = useAssessment()
  const { said, guarded } = useGuarded()
  const found: ShallowRef<T | null> = shallowRef(null)
  watch(
    [() => assessment.revision, ...also],
    async () => {
      const asked = ask()
      found.value = asked ? ((await guarded(() => asked)) ?? found.value) : null
    },
    { immediate: true },
  )
  return { found, said }
}
