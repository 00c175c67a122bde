/** The drawing tools: their keys, names and what they say while in hand. */
export type ToolName =
  | 'select' | 'wall' | 'door' | 'window' | 'space' | 'access-point' | 'device' | 'run' | 'measure'
  | 'account' | 'rack' | 'riser' | 'service-entry' | 'scale' | 'opening' | 'curve' | 'split' | 'shaft' | 'no-go' | 'planting'
  | 'fixture' | 'line' | 'align-storey' | 'walk'

export interface Tool {
  readonly name: ToolName
  readonly label: string
  readonly key?: string
  readonly hint: string
  readonly stages: readonly number[]
  readonly glyph: string
}

export const TOOLS: readonly Tool[] = [
  { name: 'select', label: 'Select', key: 'Escape', hint: 'Press something to select it; drag to pan.', stages: [1, 2, 3, 4, 5, 6, 7, 8], glyph: 'pointer' },
  { name: 'wall', label: 'Wall', key: 'w', hint: 'Press corner after corner; type a length to set it; Enter ends the chain.', stages: [2], glyph: 'wall' },
  { name: 'door', label: 'Door', key: 'd', hint: 'Press a wall where the door stands.', stages: [2], glyph: 'door' },
  { name: 'window', label: 'Window', key: 'n', hint: 'Press a wall where the window stands.', stages: [2], glyph: 'window' },
  { name: 'opening', label: 'Opening', hint: 'Press a wall where it is open.', stages: [2], glyph: 'opening' },
  { name: 'curve', label: 'Curved wall', hint: 'Press one end, a place on the curve, the other end.', stages: [2], glyph: 'curve' },
  { name: 'split', label: 'Split', hint: 'Press a wall where it is to become two.', stages: [2], glyph: 'split' },
  { name: 'space', label: 'Space', key: 's', hint: 'Press the corners; Enter or the first corner closes it.', stages: [2], glyph: 'space' },
  { name: 'shaft', label: 'Shaft', hint: 'Press the corners of a stair, lift or void; Enter closes it.', stages: [2], glyph: 'shaft' },
  { name: 'no-go', label: 'No-go area', hint: 'Press the corners; nothing is to be fitted there.', stages: [2], glyph: 'nogo' },
  { name: 'planting', label: 'Hedge or tree', hint: 'Press the corners of what grows.', stages: [2], glyph: 'plant' },
  { name: 'fixture', label: 'Fixture', hint: 'Press where it is: panel, power outlet, luminaire, old outlet.', stages: [2, 5], glyph: 'fixture' },
  { name: 'line', label: 'Line', hint: 'Press along it: mains, an old cable, a conduit, a tray. Enter ends it.', stages: [2, 5], glyph: 'line' },
  { name: 'align-storey', label: 'Align storeys', hint: 'Press two places here, then the same two on the other storey.', stages: [2], glyph: 'align' },
  { name: 'scale', label: 'Set scale', hint: 'Press both ends of a length you know, then type it.', stages: [2], glyph: 'scale' },
  { name: 'rack', label: 'Rack', hint: 'Press where the rack stands.', stages: [2, 5, 6], glyph: 'rack' },
  { name: 'riser', label: 'Riser', hint: 'Press where cables pass between storeys.', stages: [2, 5], glyph: 'riser' },
  { name: 'service-entry', label: 'Service entry', hint: 'Press where the internet service enters.', stages: [2], glyph: 'entry' },
  { name: 'access-point', label: 'Access point', key: 'a', hint: 'Press where it goes; drag it afterwards and watch the terrain.', stages: [3], glyph: 'point' },
  { name: 'device', label: 'Fixed thing', hint: 'Press where the outlet, camera or phone goes.', stages: [3, 5], glyph: 'device' },
  { name: 'run', label: 'Run', key: 'c', hint: 'Press what the cable goes to; it starts at the nearest rack.', stages: [5], glyph: 'run' },
  { name: 'walk', label: 'Walk', key: 'p', hint: 'Press the corners of the way; change the storey with [ and ] on a stair; Enter ends it.', stages: [3], glyph: 'walk' },
  { name: 'account', label: 'Loss account', key: 'l', hint: 'Press a place to open the sum behind its signal.', stages: [3], glyph: 'account' },
  { name: 'measure', label: 'Measure', key: 'm', hint: 'Press two places.', stages: [1, 2, 3, 4, 5, 6, 7, 8], glyph: 'measure' },
]

export function toolNamed(name: ToolName): Tool {
  const found = TOOLS.find((tool) => tool.name === name)
  if (!found) throw new Error(`no tool ${name}`)
  return found
}

/** Tools that take more than one press before they do something. */
export const CHAINS: ReadonlySet<ToolName> = new Set(['wall', 'space', 'scale', 'measure', 'curve', 'shaft', 'no-go', 'planting', 'line', 'align-storey', 'walk'])
/** Tools whose corners close to an outline. */
export const OUTLINES: ReadonlySet<ToolName> = new Set(['space', 'shaft', 'no-go', 'planting'])
