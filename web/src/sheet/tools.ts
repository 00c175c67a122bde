/** The drawing tools: those of the kinds of elements, from the library, and those that make nothing by themselves. */
import { computed } from 'vue'
import type { Tool as KindTool } from '@/api/schema'
import type { Kind } from '@/job/types'
import { useLibrary } from '@/job/useLibrary'

export type ToolName = string
export interface Tool extends Omit<KindTool, 'gives' | 'when' | 'only' | 'asks' | 'stem' | 'named' | 'key'> {
  readonly kind?: Kind
  readonly key?: string | null
  readonly asks?: string | null
  readonly only?: string | null
  readonly stem?: string | null
  readonly named?: boolean
  readonly gives?: KindTool['gives']
  readonly when?: KindTool['when']
  /** It changes what is there; one without a kind and without this only looks. */
  readonly changes?: true
  /** How many presses it takes before it does something by itself; none: until Enter. */
  readonly chain?: 'open' | 'two' | 'three' | 'four'
}

const EVERY = ['brief', 'plan', 'air', 'links', 'runs', 'ports', 'network', 'order']
/** Tools that look, measure or change what is there; a new wall may be curved. */
const OWN: readonly Tool[] = [
  {
    name: 'select',
    label: 'Select',
    key: 'Escape',
    hint: 'Press something to select it; drag to pan.',
    stages: EVERY,
    sign: 'pointer',
  },
  {
    name: 'curve',
    label: 'Curved wall',
    hint: 'Press one end, a place on the curve, the other end.',
    stages: ['plan'],
    sign: 'curve',
    chain: 'three',
    kind: 'wall',
    asks: 'build_up',
    only: 'wall',
  },
  {
    name: 'split',
    label: 'Split',
    hint: 'Press a wall where it is to become two.',
    stages: ['plan'],
    sign: 'split',
    changes: true,
  },
  {
    name: 'align-storey',
    label: 'Align storeys',
    hint: 'Press two places here, then the same two on the other storey.',
    stages: ['plan'],
    sign: 'align',
    changes: true,
    chain: 'four',
  },
  {
    name: 'scale',
    label: 'Set scale',
    hint: 'Press both ends of a length you know, then type it.',
    stages: ['plan'],
    sign: 'scale',
    changes: true,
    chain: 'two',
  },
  {
    name: 'account',
    label: 'Loss account',
    key: 'l',
    hint: 'Press a place to open the sum behind its signal.',
    stages: ['air'],
    sign: 'account',
  },
  {
    name: 'measure',
    label: 'Measure',
    key: 'm',
    hint: 'Press two places.',
    stages: EVERY,
    sign: 'measure',
    chain: 'two',
  },
]
const CHAINED = new Set(['ends', 'path', 'outline'])

export function useTools() {
  const library = useLibrary()
  const [select, ...others] = OWN as [Tool, ...Tool[]]
  const tools = computed<Tool[]>(() => [
    select,
    ...library.tools.map((tool): Tool => ({
      ...tool,
      chain: CHAINED.has(library.about(tool.kind).placed) ? 'open' : undefined,
    })),
    ...others,
  ])
  const named = (name: ToolName): Tool => tools.value.find((tool) => tool.name === name) ?? select
  const placedBy = (name: ToolName): string => {
    const kind = named(name).kind
    return kind ? library.about(kind).placed : 'none'
  }
  return { tools, named, placedBy }
}
