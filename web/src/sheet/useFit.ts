/** Bringing everything drawn into sight: when a job is opened, when the sheet grows, and when asked. */
import { computed, nextTick, watch } from 'vue'
import { useImport } from '@/job/useImport'
import { useJob } from '@/job/useJob'
import { useView } from '@/job/useView'
import { bounds, drawn, storeyOf } from '@/sheet/elements'
import type { useViewport } from '@/sheet/useViewport'

export function useFit(viewport: ReturnType<typeof useViewport>): () => void {
  const job = useJob()
  const view = useView()
  const importing = useImport()
  const ready = computed(() => job.loaded && viewport.width.value > 0)

  /** What is drawn on this storey. */
  function here() {
    return drawn(job.all.filter((e) => storeyOf(e, job.elements) === view.storey?.id))
  }
  /** The house with most spaces on this storey: what a job opens on, not its far outbuilding. */
  function mainHouse() {
    const spaces = job.of('space').filter((s) => s.storey_id === view.storey?.id && s.space_kind !== 'outdoor')
    const of = (name: string) => spaces.filter((space) => space.building === name)
    const names = [...new Set(spaces.map((space) => space.building))]
    const most = names.toSorted((a, b) => of(b).length - of(a).length)[0]
    return most === undefined ? [] : of(most).flatMap((space) => space.outline)
  }
  /** What was brought into sight last is what a change of the sheet's size brings there again. */
  let again = fitAll
  function fitHouse(): void {
    const house = mainHouse()
    if (house.length) viewport.fitTo(bounds(house))
    else fitAll()
  }
  function fitAll(): void {
    const pencil = importing.storey?.walls.flatMap((wall) => [wall.a, wall.b]) ?? []
    const seen = [...here(), ...pencil]
    viewport.fitTo(bounds(seen.length ? seen : drawn(job.all)))
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
    again = fitHouse
    again()
  })
  watch([viewport.height, () => view.storey?.id], () => {
    if (viewport.fitted.value) again()
  })
  // What is drawn beyond the edge of the sheet is brought into sight as long as nobody moved the sheet.
  watch(
    () => job.revision,
    () => {
      if (viewport.fitted.value && !mainHouse().length && here().some((at) => !viewport.shows(at))) fitAll()
    },
  )
  return () => {
    again = fitAll
    fitAll()
  }
}
