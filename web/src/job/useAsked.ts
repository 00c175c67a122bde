/** An answer of the server that follows the job: asked at once and again whenever what was computed changes. */
import { shallowRef, watch, type ShallowRef, type WatchSource } from 'vue'
import { useGuarded } from '@/api/useGuarded'
import { useAssessment } from '@/job/useAssessment'

export function useAsked<T>(
  ask: () => Promise<T> | null,
  also: WatchSource[] = [],
): { found: ShallowRef<T | null> } & Pick<ReturnType<typeof useGuarded>, 'said' | 'busy'> {
  const assessment = useAssessment()
  const { said, busy, guarded } = useGuarded()
  const found: ShallowRef<T | null> = shallowRef(null)
  watch(
    [() => assessment.revision, ...also],
    async () => {
      const asked = ask()
      found.value = asked ? ((await guarded(() => asked)) ?? found.value) : null
    },
    { immediate: true },
  )
  return { found, said, busy }
}
