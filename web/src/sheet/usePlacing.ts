/** What a press or a finished draft makes: elements of the kind of the tool in hand, as the library describes it. */
import { computed, reactive, type Ref } from 'vue'
import { useMake } from '@/job/make'
import { put, type Element, type Kind, type Of, type Operation, type XY } from '@/job/types'
import { useJob } from '@/job/useJob'
import { useLibrary } from '@/job/useLibrary'
import { useView } from '@/job/useView'
import { choicesOf, itemsOf, withValue, type Choice } from '@/margin/fields'
import { distance, wallAt } from '@/sheet/geometry'
import { useTools, type Tool } from '@/sheet/tools'

type Draft = Record<string, unknown>

export function usePlacing(walls: Ref<readonly Of<'wall'>[]>, reach: Ref<number>, note: Ref<string>) {
  const job = useJob()
  const view = useView()
  const library = useLibrary()
  const make = useMake()
  const { named } = useTools()
  /** What was chosen last for each tool that lets one choose. */
  const chosen = reactive<Record<string, string>>({})
  const tool = computed(() => named(view.tool))

  /** What the tool in hand lets one choose from, and what is chosen. */
  const choices = computed<Choice[]>(() => choicesFor(tool.value))
  function choicesFor(one: Tool): Choice[] {
    const field = one.kind && one.asks ? library.about(one.kind).fields.find((f) => f.path === one.asks) : undefined
    if (!field || !library.shelves) return []
    return field.shelf
      ? itemsOf(library.shelves, field.shelf, one.only ?? field.only)
      : choicesOf(field, library.shelves)
  }
  const choice = computed({
    get: () => chosen[view.tool] ?? usual(tool.value),
    set: (value: string) => {
      chosen[view.tool] = value
    },
  })
  function usual(one: Tool): string {
    const starts =
      one.gives?.[one.asks ?? ''] ?? (one.kind ? library.about(one.kind).starts[one.asks ?? ''] : undefined)
    return typeof starts === 'string' ? starts : String(choicesFor(one)[0]?.[0] ?? '')
  }

  /** A new element of the tool's kind with what the tool and the choice give it. */
  function made<K extends Kind>(kind: K, given: Draft): Of<K> {
    const one = tool.value
    const { stem, ...when } = (one.when?.[choice.value] ?? {}) as Draft
    const word = one.named ? choices.value.find(([id]) => id === choice.value)?.[1].split(',')[0] : undefined
    const called =
      typeof stem === 'string' ? stem : word ? word[0]?.toUpperCase() + word.slice(1) : (one.stem ?? undefined)
    const element = make(kind, { ...one.gives, ...given, ...when } as Partial<Of<K>>, called)
    return one.asks ? withValue(element, one.asks, choice.value) : element
  }

  /** What one press of the tool in hand makes at a place of a storey; null when it makes nothing there. */
  function placed(storey_id: string, at: XY, raw: XY): Operation[] | null {
    const kind = tool.value.kind
    if (!kind) return null
    const how = library.about(kind).placed
    if (how === 'wall') return opening(raw)
    if (how === 'up') return between(kind, storey_id, { at })
    if (how !== 'point') return null
    return [put(kind === 'access-point' ? point(storey_id, at) : made(kind, spot(kind, storey_id, at)))]
  }
  function spot(kind: Kind, storey_id: string, at: XY): Draft {
    if (kind !== 'equipment') return { storey_id, at }
    const high = library.model(choice.value)?.mounts.includes('outlet') ? 0.4 : (view.storey?.ceiling_m ?? 2.7)
    return { place: { where: 'sheet', storey_id, at, height_m: high, mount: null } }
  }
  function point(storey_id: string, at: XY): Of<'access-point'> {
    const ceiling = view.storey?.ceiling_m ?? 2.7
    const mount = library.model(choice.value)?.outdoor ? 'outdoor' : (job.of('practice')[0]?.mount ?? 'ceiling')
    const height_m = { outdoor: 3, ceiling, wall: Math.min(2.3, ceiling), desk: 0.9 }[mount]
    return made('access-point', { storey_id, at, mount, height_m })
  }
  /** Something that joins two storeys: this one and the far one, or the next. */
  function between(kind: Kind, storey_id: string, given: Draft, next = false): Operation[] | null {
    const here = view.storeys.findIndex((s) => s.id === storey_id)
    const far = here === view.storeys.length - 1 ? 0 : view.storeys.length - 1
    const other = next ? (view.storeys[here + 1] ?? view.storeys[here - 1]) : view.storeys[far]
    if (!other || other.id === storey_id) {
      note.value = `A ${library.about(kind).noun} joins two storeys; add another storey first.`
      return null
    }
    return [put(made(kind, { ...given, from_storey_id: storey_id, to_storey_id: other.id }))]
  }
  function opening(raw: XY): Operation[] | null {
    const hit = wallAt(raw, walls.value, Math.max(reach.value, 0.4))
    if (!hit) {
      note.value = 'No wall is there. Press on a wall.'
      return null
    }
    const element = made('opening', { wall_id: hit.wall.id, at_m: 0 })
    const room = distance(hit.wall.a, hit.wall.b) - element.width_m
    const at_m = Math.round(Math.min(Math.max(hit.at_m - element.width_m / 2, 0), Math.max(room, 0)) * 100) / 100
    return [put({ ...element, at_m })]
  }

  /** What the corners so far make when the draft is ended: an outline, or something along a path. */
  function outlined(storey_id: string, corners: readonly XY[], storeys: readonly string[]): Element | null {
    const kind = tool.value.kind
    if (!kind) return null
    const how = library.about(kind).placed
    if (how === 'path' && corners.length > 1) {
      if (kind === 'walk')
        return made('walk', { stops: corners.map((at, i) => ({ at, storey_id: storeys[i] ?? storey_id })) })
      return made(kind, { storey_id, path: [...corners] })
    }
    if (how !== 'outline' || corners.length < 3) return null
    if (kind === 'shaft') {
      const first = between(kind, storey_id, { outline: [...corners] }, true)?.[0]
      return first?.op === 'put' ? first.element : null
    }
    return made(kind, { storey_id, outline: [...corners] })
  }

  return { tool, choices, choice, made, placed, outlined }
}
