/** Names of the spaces of the open storey with their scores, broken and cut to the space they have. */
import { computed, toValue, type MaybeRefOrGetter } from 'vue'
import { useAssessment } from '@/job/useAssessment'
import { useJob } from '@/job/useJob'
import { useView } from '@/job/useView'
import { bounds } from '@/sheet/elements'
import { fitted, wallsInto } from '@/sheet/labels'

/** A space this high has room for a name of two lines over its score. */
const TWO_LINES_PX = 60

export function useSpaceNames(scale: MaybeRefOrGetter<number>) {
  const job = useJob()
  const view = useView()
  const assessment = useAssessment()
  return computed(() => {
    const k = toValue(scale)
    const walls = job.of('wall').filter((wall) => wall.storey_id === view.storey?.id)
    return job
      .of('space')
      .filter((space) => space.storey_id === view.storey?.id)
      .map((space) => {
        const box = bounds(space.outline)
        const into = wallsInto(box, walls)
        const width = (box.x1 - box.x0 - into.x) * k
        const height = (box.y1 - box.y0 - into.y) * k
        const lines = fitted(space.label, width - 4, height > TWO_LINES_PX ? 2 : 1)
        const tall = height > 34 && width > 52
        return {
          id: space.id,
          lines,
          full: space.label,
          x: box.x0 + into.x + 5 / k,
          y: box.y0 + into.y + 15 / k,
          score: assessment.spaces.get(space.id),
          tall,
        }
      })
  })
}
