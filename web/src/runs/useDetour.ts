/** Leading a run another way by hand: what is drawn follows the pointer, the server says how the run would lie. */
import { useEventListener } from '@vueuse/core'
import { shallowRef } from 'vue'
import type { Detour } from '@/api/schema'
import { api, take } from '@/api/client'
import { useGuarded } from '@/api/useGuarded'
import { useLatest } from '@/api/useLatest'
import { useJob } from '@/job/useJob'
import { put, type XY } from '@/job/types'
import { useSelection } from '@/job/useSelection'
import { useView } from '@/job/useView'
import { rounded } from '@/sheet/geometry'

const STILL_PX = 4

/** What of a run was taken hold of: one of its legs, or one of its pins. */
export interface Grip {
  readonly run: string
  readonly leg?: number
  readonly pin?: number
}

export function useDetour(where: (event: MouseEvent) => XY) {
  const job = useJob()
  const view = useView()
  const selection = useSelection()
  const { said, guarded } = useGuarded()
  const held = shallowRef<(Grip & { at: XY; moved: boolean }) | null>(null)
  const found = shallowRef<Detour | null>(null)
  let from = { x: 0, y: 0 }

  async function ask(question: { grip: Grip; at: XY }): Promise<Detour | null> {
    const { grip, at } = question
    const storey_id = view.storey?.id
    if (!storey_id) return null
    const query = { run: grip.run, storey_id, x_m: at.x_m, y_m: at.y_m, leg: grip.leg, pin: grip.pin }
    const params = { path: { job_id: job.id }, query }
    return (await guarded(() => take(api.GET('/api/jobs/{job_id}/runs/detour', { params })))) ?? null
  }
  const { latest } = useLatest(ask, (answer) => {
    found.value = answer
  })

  function grab(event: PointerEvent, grip: Grip): void {
    if (event.button !== 0 || view.tool !== 'select' || event.shiftKey) return
    event.stopPropagation()
    from = { x: event.clientX, y: event.clientY }
    held.value = { ...grip, at: where(event), moved: false }
  }
  function move(event: PointerEvent): void {
    const now = held.value
    if (!now) return
    const far = Math.hypot(event.clientX - from.x, event.clientY - from.y)
    if (!now.moved && far < STILL_PX) return
    if (!now.moved) selection.select(now.run)
    held.value = { ...now, at: rounded(where(event)), moved: true }
    void latest({ grip: now, at: held.value.at })
  }
  async function drop(): Promise<void> {
    const now = held.value
    held.value = null
    if (!now?.moved) return
    await job.mustBeSaved()
    await latest({ grip: now, at: now.at })
    decide(found.value)
    found.value = null
  }
  function giveUp(): void {
    held.value = null
    found.value = null
  }
  function decide(led: Detour | null): void {
    const run = led ? job.elements.get(led.run_id) : undefined
    if (run?.kind === 'link' && led) job.edit(`Lead ${run.label} another way`, [put({ ...run, pins: led.pins })])
  }
  /** A pin more, in the middle of a leg: for hands that use keys. */
  async function pinOn(grip: Grip, at: XY): Promise<void> {
    decide(await ask({ grip, at: rounded(at) }))
  }
  useEventListener('pointermove', move)
  useEventListener('pointerup', () => void drop())
  useEventListener('pointercancel', giveUp)
  useEventListener('keydown', (event: KeyboardEvent) => {
    if (event.key === 'Escape') giveUp()
  })
  return { held, found, grab, pinOn, said }
}
