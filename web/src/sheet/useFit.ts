/** Bringing everything drawn into sight: when a job is opened, when the sheet grows, and when asked. */
import { computed, nextTick, watch } from 'vue'
import { useImport } from '@/job/useImport'
import { useJob } from '@/job/useJob'
import { useView } from '@/job/useView'
import { bounds, drawn } from '@/sheet/elements'
import type { useViewport } from '@/sheet/useViewport'

export function useFit(viewport: ReturnType<typeof useViewport>): () => void {
  const job = useJob()
  const view = useView()
  const importing = useImport()
  const ready = computed(() => job.loaded && viewport.width.value > 0)

  function fitAll(): void {
    const pencil = importing.storey?.walls.flatMap((wall) => [wall.a, wall.b]) ?? []
    viewport.fitTo(bounds([...drawn(job.all), ...pencil]))
  }
  watch(
    () => importing.storey,
    (now) => {
      if (now) fitAll()
    },
  )
  watch(
    () => view.goTo,
    (at) => {
      if (at) viewport.reveal(at)
    },
  )
  watch([ready, () => job.id], async ([now]) => {
    if (!now) return
    await nextTick()
    fitAll()
  })
  watch(viewport.height, () => {
    if (viewport.fitted.value) fitAll()
  })
  return fitAll
}
