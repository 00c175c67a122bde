/** The terrain on the sheet; while a point is dragged, the latest place wins and none queue up. */
import { shallowRef, watch } from 'vue'
import { fetchTerrain, Refusal, Unreachable } from '@/api/client'
import { useJob } from '@/job/useJob'
import type { Band, Of } from '@/job/types'
import type { TerrainAsked } from '@/api/schema'
import { useLibrary } from '@/job/useLibrary'
import { useAirView } from '@/air/useAirView'
import { useView } from '@/job/useView'
import { decode, type Terrain } from '@/sheet/terrain'

const BANDS: readonly Band[] = ['2.4', '5', '6']

export function useTerrain(shown: () => boolean) {
  const job = useJob()
  const view = useView()
  const airView = useAirView()
  const library = useLibrary()
  const terrain = shallowRef<Terrain | null>(null)
  /** What lies to the right of the divider when two designs are laid side by side. */
  const other = shallowRef<Terrain | null>(null)
  /** The same layer on the other bands, fetched while the hand rests: spot heights for all of them. */
  const beside = shallowRef<ReadonlyMap<Band, Terrain>>(new Map())
  let running = false
  let next: { moved: Of<'access-point'> | null } | null = null

  async function fetchLayer(body: Partial<TerrainAsked>): Promise<Terrain | null> {
    const levels =
      body.signal === 'server'
        ? job.of('access-point').map((_, i) => i + 0.5)
        : library.shelves?.layers[body.signal ?? 'best']?.levels
    try {
      return decode(await fetchTerrain(job.id, body), levels, body.signal !== 'server')
    } catch (error) {
      if (error instanceof Refusal) return null
      throw error
    }
  }
  async function fetchOnce(moved: Of<'access-point'> | null): Promise<void> {
    const storey = view.storey
    if (!storey || !shown()) {
      terrain.value = other.value = null
      return
    }
    const asked = {
      storey_id: storey.id,
      band: airView.band,
      signal: airView.signal,
      way: airView.way,
      moved,
      without: airView.failed,
    }
    const compare = airView.compare
    if (compare?.how === 'difference') {
      const straight = compare.id === 'straight'
      terrain.value = await fetchLayer({
        ...asked,
        signal: 'difference',
        variant: straight ? null : compare.id,
        against: straight ? 'straight' : 'design',
      })
      other.value = null
      return
    }
    terrain.value = await fetchLayer({ ...asked, quick: moved !== null })
    other.value = compare ? await fetchLayer({ ...asked, moved: null, variant: compare.id }) : null
  }
  async function ask(moved: Of<'access-point'> | null): Promise<void> {
    next = { moved }
    if (running) return
    running = true
    try {
      while (next) {
        const now: { moved: Of<'access-point'> | null } = next
        next = null
        await fetchOnce(now.moved)
      }
      await fetchBeside(moved)
    } catch (error) {
      if (!(error instanceof Unreachable)) throw error
    } finally {
      running = false
    }
    if (next) await ask(next.moved)
  }
  async function fetchBeside(moved: Of<'access-point'> | null): Promise<void> {
    beside.value = new Map()
    const storey = view.storey
    if (moved || !storey || !shown() || airView.compare || airView.signal === 'server') return
    const found = new Map<Band, Terrain>()
    for (const band of BANDS.filter((each) => each !== airView.band)) {
      if (next) return
      const layer = await fetchLayer({
        storey_id: storey.id,
        band,
        signal: airView.signal,
        way: airView.way,
        without: airView.failed,
        quick: false,
      })
      if (layer) found.set(band, layer)
    }
    if (!next) beside.value = found
  }

  watch(
    () =>
      [
        job.revision,
        job.loaded,
        view.storey?.id,
        airView.band,
        airView.signal,
        airView.way,
        airView.failed,
        airView.compare,
        library.shelves !== null,
        shown(),
      ] as const,
    ([, loaded]) => {
      if (loaded && library.shelves) void ask(null)
    },
    { immediate: true },
  )
  return { terrain, other, beside, ask }
}
