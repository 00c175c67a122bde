/** Names of the spaces of the open storey with their scores, cut to the space they have. */
import { computed, toValue, type MaybeRefOrGetter } from 'vue'
import { useAssessment } from '@/job/useAssessment'
import { useJob } from '@/job/useJob'
import { useView } from '@/job/useView'
import { bounds } from '@/sheet/elements'

export function useSpaceNames(scale: MaybeRefOrGetter<number>) {
  const job = useJob()
  const view = useView()
  const assessment = useAssessment()
  return computed(() => {
    const k = toValue(scale)
    return job
      .of('space')
      .filter((space) => space.storey_id === view.storey?.id)
      .map((space) => {
        const box = bounds(space.outline)
        const width = (box.x1 - box.x0) * k
        const most = Math.max(0, Math.floor((width - 4) / 5.4))
        const label = space.label.length <= most ? space.label : most > 3 ? `${space.label.slice(0, most - 1)}…` : ''
        const tall = (box.y1 - box.y0) * k > 34 && width > 52
        return {
          id: space.id,
          label,
          full: space.label,
          x: box.x0 + 5 / k,
          y: box.y0 + 15 / k,
          score: assessment.spaces.get(space.id),
          tall,
        }
      })
  })
}
