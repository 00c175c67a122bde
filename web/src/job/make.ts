/** New elements with their starting values; the core checks them. */
import { v7 as uuid } from 'uuid'
import type { Element, Kind, Of, XY } from '@/job/types'

const NAMES: Partial<Record<Kind, string>> = {
  wall: 'Wall', opening: 'Door', space: 'Space', riser: 'Riser', rack: 'TR', 'access-point': 'AP', device: 'Outlet',
  'service-entry': 'Service entry', storey: 'Storey', run: 'R-', switch: 'SW', underlay: 'Drawing', conduit: 'Conduit', network: 'Network', ssid: 'Name',
  'no-go': 'No-go area', planting: 'Hedge', shaft: 'Shaft', fixture: 'Outlet', line: 'Line', 'build-up': 'Build-up',
}
const OPENING_NAMES = { door: 'Door', window: 'Window', opening: 'Opening' } as const

/** The next free label of a kind: "AP 3", "R-07". */
export function nextLabel(kind: Kind, all: readonly Element[], ahead = 0, called?: string): string {
  const name = called ?? NAMES[kind] ?? kind
  const used = new Set(all.map((element) => element.label))
  for (let n = 1 + ahead; ; n++) {
    const label = kind === 'run' ? `${name}${String(n).padStart(2, '0')}` : kind === 'rack' || kind === 'switch' ? `${name}${n}` : `${name} ${n}`
    if (!used.has(label)) return label
  }
}

export const FIXTURES: Readonly<Record<Of<'fixture'>['fixture_kind'], string>> = {
  'electrical-panel': 'Electrical panel', 'power-outlet': 'Power outlet', luminaire: 'Luminaire', 'data-outlet': 'Old data outlet', meter: 'Meter', heater: 'Heater',
}
export const LINES: Readonly<Record<Of<'line'>['line_kind'], string>> = { mains: 'Mains run', cable: 'Old cable', conduit: 'Old conduit', tray: 'Tray' }
export const SHAFTS: readonly Of<'shaft'>['shaft_kind'][] = ['stair', 'lift', 'atrium', 'void']
export const REASONS: readonly Of<'no-go'>['reason'][] = ['heat', 'damp', 'lead', 'listed', 'fire-rated', 'electrical']

export const make = {
  wall: (all: readonly Element[], storey_id: string, a: XY, b: XY, build_up: string): Of<'wall'> => ({
    kind: 'wall', id: uuid(), label: nextLabel('wall', all), storey_id, a, b, build_up, height_m: null, thickness_m: null,
  }),
  opening: (all: readonly Element[], wall_id: string, at_m: number, opening_kind: Of<'opening'>['opening_kind']): Of<'opening'> => {
    const window = opening_kind === 'window'
    return ({
    kind: 'opening', id: uuid(), label: nextLabel('opening', all, 0, OPENING_NAMES[opening_kind]), wall_id, at_m, leaf: 'single', fire_minutes: 0,
    opening_kind, width_m: window ? 1.2 : 0.9, sill_m: window ? 0.9 : 0, height_m: window ? 1.2 : 2.1,
    build_up: window ? 'glazing-clear' : 'door-hollow',
  }) },
  space: (all: readonly Element[], storey_id: string, outline: readonly XY[]): Of<'space'> => ({
    kind: 'space', id: uuid(), label: nextLabel('space', all), storey_id, outline: [...outline], space_kind: 'room', need: 'browsing',
    building: 'Main house', no_go: '', people: 0, ceiling_m: null, hottest_c: null, void_m: null, slab_build_up: null, profile: null, contents: 'bare',
  }),
  accessPoint: (all: readonly Element[], storey_id: string, at: XY, model: string, height_m: number, outdoor: boolean): Of<'access-point'> => ({
    kind: 'access-point', id: uuid(), label: nextLabel('access-point', all), storey_id, at, model, height_m,
    mount: outdoor ? 'outdoor' : 'ceiling', facing_deg: 0, tilt_deg: 0, antenna: null, pinned: false, radios: [],
  }),
  walk: (all: readonly Element[], stops: Of<'walk'>['stops']): Of<'walk'> => ({ kind: 'walk', id: uuid(), label: nextLabel('walk', all), client_class: 'phone', band: '5', stops }),
  variant: (all: readonly Element[], name: string, points: Of<'variant'>['points']): Of<'variant'> => ({ kind: 'variant', id: uuid(), label: nextLabel('variant', all, 0, name), points }),
  airModel: (): Of<'air-model'> => ({ kind: 'air-model', id: uuid(), label: 'How the air is computed', round: true, mirrors: true, true_angle: false, doors: 'closed', area_losses: true, calibrated: true }),
  device: (all: readonly Element[], storey_id: string, at: XY, model: string): Of<'device'> => ({
    kind: 'device', id: uuid(), label: nextLabel('device', all), storey_id, at, model, height_m: 0.4,
  }),
  rack: (all: readonly Element[], storey_id: string, at: XY): Of<'rack'> => ({
    kind: 'rack', id: uuid(), label: nextLabel('rack', all), storey_id, at, height_m: 1.5, model: 'rack-12u',
  }),
  riser: (all: readonly Element[], from_storey_id: string, to_storey_id: string, at: XY): Of<'riser'> => ({
    kind: 'riser', id: uuid(), label: nextLabel('riser', all), at, from_storey_id, to_storey_id,
  }),
  serviceEntry: (all: readonly Element[], storey_id: string, at: XY): Of<'service-entry'> => ({
    kind: 'service-entry', id: uuid(), label: nextLabel('service-entry', all), storey_id, at,
  }),
  run: (all: readonly Element[], rack_id: string, to_id: string, cable: string): Of<'run'> => ({
    kind: 'run', id: uuid(), label: nextLabel('run', all), rack_id, to_id, cable, pin: null, injector: null,
  }),
  switch: (all: readonly Element[], rack_id: string): Of<'switch'> => ({
    kind: 'switch', id: uuid(), label: nextLabel('switch', all), rack_id, model: 'switch-16-poe-2g5',
  }),
  storey: (all: readonly Element[], elevation_m: number): Of<'storey'> => ({
    kind: 'storey', id: uuid(), label: nextLabel('storey', all), elevation_m, storey_kind: 'floor', ceiling_m: 2.7, void_m: 0.3, slab_build_up: 'concrete-slab-150',
  }),
  underlay: (storey_id: string, label: string, attachment_id: string, width_px: number, height_px: number): Of<'underlay'> => ({
    kind: 'underlay', id: uuid(), label, storey_id, attachment_id, width_px, height_px, metres_per_px: null, x_m: 0, y_m: 0,
  }),
  noGo: (all: readonly Element[], storey_id: string, outline: readonly XY[], reason: Of<'no-go'>['reason']): Of<'no-go'> => ({
    kind: 'no-go', id: uuid(), label: nextLabel('no-go', all), storey_id, outline: [...outline], reason, note: '',
  }),
  planting: (all: readonly Element[], storey_id: string, outline: readonly XY[], build_up: string): Of<'planting'> => ({
    kind: 'planting', id: uuid(), label: nextLabel('planting', all, 0, build_up === 'hedge' ? 'Hedge' : 'Tree'), storey_id, outline: [...outline], height_m: build_up === 'hedge' ? 2 : 8, build_up,
  }),
  shaft: (all: readonly Element[], from_storey_id: string, to_storey_id: string, outline: readonly XY[], shaft_kind: Of<'shaft'>['shaft_kind']): Of<'shaft'> => ({
    kind: 'shaft', id: uuid(), label: nextLabel('shaft', all, 0, shaft_kind[0]?.toUpperCase() + shaft_kind.slice(1)), shaft_kind, outline: [...outline], from_storey_id, to_storey_id,
  }),
  fixture: (all: readonly Element[], storey_id: string, at: XY, fixture_kind: Of<'fixture'>['fixture_kind']): Of<'fixture'> => ({
    kind: 'fixture', id: uuid(), label: nextLabel('fixture', all, 0, FIXTURES[fixture_kind]), fixture_kind, storey_id, at, height_m: fixture_kind === 'luminaire' ? 2.6 : fixture_kind === 'electrical-panel' ? 1.5 : 0.4, keep: true, note: '',
  }),
  line: (all: readonly Element[], storey_id: string, path: readonly XY[], line_kind: Of<'line'>['line_kind']): Of<'line'> => ({
    kind: 'line', id: uuid(), label: nextLabel('line', all, 0, LINES[line_kind]), line_kind, storey_id, path: [...path], height_m: 2.4, keep: true, note: '',
  }),
  acceptance: (label: string, finding_key: string, reason: string): Of<'acceptance'> => ({
    kind: 'acceptance', id: uuid(), label: label.slice(0, 80), finding_key, reason,
  }),
}
