/** The terrain on the sheet; while a point is dragged, the latest place wins and none queue up. */
import { shallowRef, watch } from 'vue'
import { Unreachable } from '@/api/client'
import { useJob } from '@/job/useJob'
import type { Of } from '@/job/types'
import { useView } from '@/job/useView'
import { decode, type Terrain } from '@/sheet/terrain'

export function useTerrain(shown: () => boolean) {
  const job = useJob()
  const view = useView()
  const terrain = shallowRef<Terrain | null>(null)
  let running = false
  let next: { moved: Of<'access-point'> | null } | null = null

  async function fetchOnce(moved: Of<'access-point'> | null): Promise<void> {
    const storey = view.storey
    if (!storey || !shown()) {
      terrain.value = null
      return
    }
    const body = { storey_id: storey.id, band: view.band, signal: view.signal, way: view.way, moved }
    const response = await fetch(`/api/jobs/${job.id}/air/terrain`, {
      method: 'POST', body: JSON.stringify(body), headers: { 'Content-Type': 'application/json' },
    }).catch(() => {
      throw new Unreachable('The server was not reached.')
    })
    if (response.ok) terrain.value = decode(await response.arrayBuffer())
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
    } catch (error) {
      if (!(error instanceof Unreachable)) throw error
    } finally {
      running = false
    }
  }

  watch(
    () => [job.revision, job.loaded, view.storey?.id, view.band, view.signal, view.way, shown()] as const,
    ([, loaded]) => { if (loaded) void ask(null) },
    { immediate: true },
  )
  return { terrain, ask }
}
