/** The tool in hand: what a press on the sheet means, the draft so far, and lengths that are typed. */
import { computed, ref, shallowRef, watch, type Ref } from 'vue'
import { make } from '@/job/make'
import { put, type Operation, type XY } from '@/job/types'
import { useJob } from '@/job/useJob'
import { useLibrary } from '@/job/useLibrary'
import { useView } from '@/job/useView'
import { distance, snapped, wallAt, withLength, type View } from '@/sheet/geometry'
import { CHAINS } from '@/sheet/tools'
import { useUnits } from '@/units/useUnits'

const REACH_PX = 12

export function useDrawing(viewport: Ref<View>) {
  const job = useJob()
  const view = useView()
  const library = useLibrary()
  const units = useUnits()
  const draft = shallowRef<readonly XY[]>([])
  const pointer = shallowRef<XY | null>(null)
  const typed = ref('')
  const note = ref('')
  const buildUp = ref('block-light-100')
  const model = ref('ap-ceiling-wifi6-2x2')
  const thing = ref('outlet-data')

  const walls = computed(() => job.of('wall').filter((wall) => wall.storey_id === view.storey?.id))
  const ends = computed(() => [...walls.value.flatMap((wall) => [wall.a, wall.b]), ...draft.value])
  const reach = computed(() => REACH_PX / viewport.value.k)
  const from = computed(() => draft.value.at(-1) ?? null)
  const aim = computed(() => (pointer.value ? snapped(pointer.value, CHAINS.has(view.tool) ? from.value : null, ends.value, reach.value) : null))
  watch(() => view.tool, cancel)

  function cancel(): void {
    draft.value = []
    typed.value = ''
    note.value = ''
  }

  /** A press at a place: by pointer, or Enter at the sheet's cross. */
  function press(raw: XY): void {
    pointer.value = raw
    const at = aim.value ?? raw
    note.value = ''
    if (CHAINS.has(view.tool)) chain(at)
    else place(at, raw)
  }

  function chain(at: XY): void {
    const first = draft.value[0]
    if (view.tool === 'wall' && from.value) addWall(from.value, at)
    if (view.tool === 'space' && first && draft.value.length > 2 && distance(first, at) < reach.value) return finish()
    const twoEnds = view.tool === 'scale' || view.tool === 'measure'
    draft.value = twoEnds && draft.value.length === 2 ? [at] : [...draft.value, at]
  }

  function addWall(a: XY, b: XY): void {
    const storey = view.storey
    if (!storey) return
    if (distance(a, b) < 0.01) {
      note.value = 'That wall would have no length: both ends are at the same point.'
      return
    }
    job.edit('Draw a wall', [put(make.wall(job.all, storey.id, a, b, buildUp.value))])
  }

  function place(at: XY, raw: XY): void {
    const storey = view.storey
    if (!storey) {
      note.value = 'Add a storey first.'
      return
    }
    const operations = placed(storey.id, at, raw)
    if (!operations) return
    const first = operations[0]
    job.edit(`Place ${first?.op === 'put' ? first.element.label : ''}`, operations)
    if (first?.op === 'put') view.select(first.element.id)
    if (view.tool !== 'access-point' && view.tool !== 'device') view.tool = 'select'
  }

  function placed(storey: string, at: XY, raw: XY): Operation[] | null {
    const ceiling = view.storey?.ceiling_m ?? 2.7
    switch (view.tool) {
      case 'access-point': {
        const outdoor = library.shelves?.access_points[model.value]?.outdoor ?? false
        return [put(make.accessPoint(job.all, storey, at, model.value, outdoor ? 3 : ceiling, outdoor))]
      }
      case 'device': return [put(make.device(job.all, storey, at, thing.value))]
      case 'rack': return [put(make.rack(job.all, storey, at))]
      case 'service-entry': return [put(make.serviceEntry(job.all, storey, at))]
      case 'riser': return riser(storey, at)
      case 'door':
      case 'window': return opening(raw)
      default: return null
    }
  }

  function riser(storey: string, at: XY): Operation[] | null {
    const other = view.storeys.at(-1)?.id === storey ? view.storeys[0] : view.storeys.at(-1)
    if (!other || other.id === storey) {
      note.value = 'A riser joins two storeys; add another storey first.'
      return null
    }
    return [put(make.riser(job.all, storey, other.id, at))]
  }

  function opening(raw: XY): Operation[] | null {
    const hit = wallAt(raw, walls.value, Math.max(reach.value, 0.4))
    if (!hit) {
      note.value = 'No wall is there. Press on a wall.'
      return null
    }
    const opening = make.opening(job.all, hit.wall.id, 0, view.tool === 'window')
    const room = distance(hit.wall.a, hit.wall.b) - opening.width_m
    const at_m = Math.round(Math.min(Math.max(hit.at_m - opening.width_m / 2, 0), Math.max(room, 0)) * 100) / 100
    return [put({ ...opening, at_m })]
  }

  /** Enter: take the typed length, or end the chain. */
  function finish(): void {
    const storey = view.storey
    if (typed.value && view.tool !== 'scale') return takeTyped()
    if (view.tool === 'scale') return setScale()
    if (view.tool === 'space' && draft.value.length >= 3 && storey) {
      const space = make.space(job.all, storey.id, draft.value)
      job.edit('Draw a space', [put(space)])
      view.select(space.id)
    }
    cancel()
  }

  function takeTyped(): void {
    const length = units.parseLength(typed.value)
    if (length === null || length <= 0) note.value = `“${typed.value}” is no length. Write it like 3.5.`
    else if (from.value && pointer.value) chain(withLength(from.value, aim.value ?? pointer.value, length))
    typed.value = ''
  }

  function setScale(): void {
    const [a, b] = draft.value
    const length = units.parseLength(typed.value)
    const underlay = job.of('underlay').find((u) => u.storey_id === view.storey?.id)
    if (!a || !b || !underlay) {
      note.value = underlay ? 'Press both ends of the known length first.' : 'Add a drawing to this storey first.'
      return
    }
    if (length === null || length <= 0) {
      note.value = 'The length must be a number above zero, like 12.4.'
      return
    }
    const shown = distance(a, b)
    if (shown < 1e-6) {
      note.value = 'The two ends are the same point; a scale of zero is not possible.'
      return
    }
    const metres_per_px = (underlay.metres_per_px ?? UNSCALED_M_PER_PX) * (length / shown)
    job.edit('Set the scale', [put({ ...underlay, metres_per_px })])
    cancel()
    view.tool = 'select'
  }

  function type(key: string): boolean {
    if (!CHAINS.has(view.tool) || !draft.value.length) return false
    if (key === 'Backspace') typed.value = typed.value.slice(0, -1)
    else if (/^[\d.,'"]$/.test(key)) typed.value += key
    else return false
    return true
  }

  return { draft, pointer, aim, typed, note, buildUp, model, thing, press, finish, cancel, type, from }
}

/** A drawing without a scale is shown as if it were at this one. */
export const UNSCALED_M_PER_PX = 0.02
