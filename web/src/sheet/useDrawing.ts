/** The tool in hand: what a press on the sheet means, the draft so far, and lengths that are typed. */
import { computed, ref, shallowRef, watch, type Ref } from 'vue'
import { put, type XY } from '@/job/types'
import { useShape } from '@/job/useShape'
import { useJob } from '@/job/useJob'
import { useAirView } from '@/air/useAirView'
import { useSelection } from '@/job/useSelection'
import { useView } from '@/job/useView'
import { distance, snapped, wallAt, withLength, type View } from '@/sheet/geometry'
import { usePlacing } from '@/sheet/usePlacing'
import { useTools } from '@/sheet/tools'
import { useUnits } from '@/units/useUnits'

const REACH_PX = 12

export function useDrawing(viewport: Ref<View>) {
  const job = useJob()
  const view = useView()
  const selection = useSelection()
  const airView = useAirView()
  const units = useUnits()
  const draft = shallowRef<readonly XY[]>([])
  const pointer = shallowRef<XY | null>(null)
  const typed = ref('')
  const note = ref('')
  const thickness = ref('')
  const shaping = useShape()
  const alignFrom = ref<string | null>(null)
  /** The storey of each corner of a walk: a walk may change storeys on its way. */
  const storeysOfDraft = shallowRef<readonly string[]>([])

  const walls = computed(() => job.of('wall').filter((wall) => wall.storey_id === view.storey?.id))
  const ends = computed(() => [...walls.value.flatMap((wall) => [wall.a, wall.b]), ...draft.value])
  const reach = computed(() => REACH_PX / viewport.value.k)
  const from = computed(() => draft.value.at(-1) ?? null)
  const { placedBy } = useTools()
  const placing = usePlacing(walls, reach, note)
  const chained = computed(() => placing.tool.value.chain !== undefined)
  const outlines = computed(() => placedBy(view.tool) === 'outline')
  const aim = computed(() =>
    pointer.value
      ? snapped(
          pointer.value,
          chained.value ? from.value : null,
          ends.value,
          reach.value,
          chained.value && view.tool !== 'measure' ? walls.value : [],
        )
      : null,
  )
  watch(() => view.tool, cancel)

  function cancel(): void {
    draft.value = []
    typed.value = ''
    note.value = ''
    alignFrom.value = null
    storeysOfDraft.value = []
  }

  /** A press at a place: by pointer, or Enter at the sheet's cross. */
  function press(raw: XY): void {
    pointer.value = raw
    const at = aim.value ?? raw
    note.value = ''
    if (chained.value) chain(at)
    else place(at, raw)
  }

  function chain(at: XY): void {
    const first = draft.value[0]
    if (view.tool === 'wall' && from.value) addWall(from.value, at)
    if (outlines.value && first && draft.value.length > 2 && distance(first, at) < reach.value) return finish()
    const twoEnds = placing.tool.value.chain === 'two'
    draft.value = twoEnds && draft.value.length === 2 ? [at] : [...draft.value, at]
    if (view.tool === 'walk' && view.storey) storeysOfDraft.value = [...storeysOfDraft.value, view.storey.id]
    if (view.tool === 'curve' && draft.value.length === 3) void curve()
    if (view.tool === 'align-storey') void align()
  }

  async function curve(): Promise<void> {
    const [a, through, b] = draft.value
    const storey = view.storey
    if (!a || !through || !b || !storey) return
    draft.value = []
    await shaping.run('Draw a curved wall', {
      do: 'curve',
      storey_id: storey.id,
      a,
      through,
      b,
      build_up: placing.choice.value,
      thickness_m: thicknessOf(),
    })
  }

  /** Two places here, the same two on the other storey: this storey is laid over it. */
  async function align(): Promise<void> {
    const mine = alignFrom.value ?? view.storey?.id ?? null
    const at = view.storeys.findIndex((s) => s.id === mine)
    const other = view.storeys[at - 1] ?? view.storeys[at + 1]
    if (!mine || !other) {
      note.value = 'Only one storey is drawn; there is nothing to lay it over.'
      draft.value = []
      return
    }
    if (draft.value.length === 2 && !alignFrom.value) {
      alignFrom.value = mine
      view.chosenStorey = other.id
      note.value = `Now press the same two places on ${other.label}.`
    }
    const [a, b, c, d] = draft.value
    if (!a || !b || !c || !d) return
    draft.value = []
    alignFrom.value = null
    view.chosenStorey = mine
    await shaping.run('Align the storey', { do: 'align-storey', storey_id: mine, here: [a, b], there: [c, d] })
    view.tool = 'select'
  }

  function thicknessOf(): number | null {
    const value = units.parseLength(thickness.value)
    return value !== null && value > 0 ? value : null
  }

  function addWall(a: XY, b: XY): void {
    const storey = view.storey
    if (!storey) return
    if (distance(a, b) < 0.01) {
      note.value = 'That wall would have no length: both ends are at the same point.'
      return
    }
    job.edit('Draw a wall', [put(placing.made('wall', { storey_id: storey.id, a, b, thickness_m: thicknessOf() }))])
  }

  function place(at: XY, raw: XY): void {
    const storey = view.storey
    if (!storey) {
      note.value = 'Add a storey first.'
      return
    }
    if (view.tool === 'split') return split(raw)
    const operations = placing.placed(storey.id, at, raw)
    if (!operations) return
    const first = operations[0]
    job.edit(`Place ${first?.op === 'put' ? first.element.label : ''}`, operations)
    if (first?.op === 'put') selection.select(first.element.id)
    // Points and fixed things come in numbers: the tool stays in hand.
    if (view.tool !== 'access-point' && view.tool !== 'equipment') view.tool = 'select'
  }

  function split(raw: XY): void {
    const hit = wallAt(raw, walls.value, Math.max(reach.value, 0.4))
    if (!hit) note.value = 'No wall is there. Press on a wall.'
    else
      void shaping.run(`Split ${hit.wall.label}`, { do: 'split', wall_id: hit.wall.id, at_m: Math.max(hit.at_m, 0.01) })
  }

  /** Enter: take the typed length, or end the chain. */
  function finish(): void {
    const storey = view.storey
    if (typed.value && view.tool !== 'scale') return takeTyped()
    if (view.tool === 'scale') return setScale()
    const made = storey ? placing.outlined(storey.id, draft.value, storeysOfDraft.value) : null
    if (made?.kind === 'walk') {
      airView.walk = made.id
      airView.walkStep = 0
      view.panel = 'Walks'
      view.drawer = true
      job.edit(`Draw ${made.label}`, [put(made)])
      view.tool = 'select'
    } else if (made) {
      job.edit(`Draw ${made.label}`, [put(made)])
      selection.select(made.id)
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
    if (!chained.value || !draft.value.length) return false
    if (key === 'Backspace') typed.value = typed.value.slice(0, -1)
    else if (/^[\d.,'"]$/.test(key)) typed.value += key
    else return false
    return true
  }

  return {
    draft,
    pointer,
    aim,
    typed,
    note,
    thickness,
    choices: placing.choices,
    choice: placing.choice,
    press,
    finish,
    cancel,
    type,
    from,
  }
}

/** A drawing without a scale is shown as if it were at this one. */
export const UNSCALED_M_PER_PX = 0.02
