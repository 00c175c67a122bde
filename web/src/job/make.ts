/** New elements with their starting values; the core checks them. */
import { v7 as uuid } from 'uuid'
import type { Element, Kind, Of, XY } from '@/job/types'

const NAMES: Partial<Record<Kind, string>> = {
  wall: 'Wall', opening: 'Door', space: 'Space', riser: 'Riser', rack: 'TR', 'access-point': 'AP', device: 'Outlet',
  'service-entry': 'Service entry', storey: 'Storey', run: 'R-', switch: 'SW', underlay: 'Drawing', conduit: 'Conduit', network: 'Network', ssid: 'Name',
}

/** The next free label of a kind: "AP 3", "R-07". */
export function nextLabel(kind: Kind, all: readonly Element[], ahead = 0): string {
  const name = NAMES[kind] ?? kind
  const used = new Set(all.map((element) => element.label))
  for (let n = 1 + ahead; ; n++) {
    const label = kind === 'run' ? `${name}${String(n).padStart(2, '0')}` : kind === 'rack' || kind === 'switch' ? `${name}${n}` : `${name} ${n}`
    if (!used.has(label)) return label
  }
}

export const make = {
  wall: (all: readonly Element[], storey_id: string, a: XY, b: XY, build_up: string): Of<'wall'> => ({
    kind: 'wall', id: uuid(), label: nextLabel('wall', all), storey_id, a, b, build_up, height_m: null,
  }),
  opening: (all: readonly Element[], wall_id: string, at_m: number, window: boolean): Of<'opening'> => ({
    kind: 'opening', id: uuid(), label: nextLabel('opening', all).replace('Door', window ? 'Window' : 'Door'), wall_id, at_m,
    opening_kind: window ? 'window' : 'door', width_m: window ? 1.2 : 0.9, sill_m: window ? 0.9 : 0, height_m: window ? 1.2 : 2.1,
    build_up: window ? 'glazing-clear' : 'door-hollow',
  }),
  space: (all: readonly Element[], storey_id: string, outline: readonly XY[]): Of<'space'> => ({
    kind: 'space', id: uuid(), label: nextLabel('space', all), storey_id, outline: [...outline], space_kind: 'room', need: 'browsing',
    building: 'Main house', no_go: '', people: 0, ceiling_m: null, hottest_c: null,
  }),
  accessPoint: (all: readonly Element[], storey_id: string, at: XY, model: string, height_m: number, outdoor: boolean): Of<'access-point'> => ({
    kind: 'access-point', id: uuid(), label: nextLabel('access-point', all), storey_id, at, model, height_m,
    mount: outdoor ? 'outdoor' : 'ceiling', facing_deg: 0, radios: [],
  }),
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
    kind: 'storey', id: uuid(), label: nextLabel('storey', all), elevation_m, ceiling_m: 2.7, void_m: 0.3, slab_build_up: 'concrete-slab-150',
  }),
  underlay: (storey_id: string, label: string, attachment_id: string, width_px: number, height_px: number): Of<'underlay'> => ({
    kind: 'underlay', id: uuid(), label, storey_id, attachment_id, width_px, height_px, metres_per_px: null, x_m: 0, y_m: 0,
  }),
  acceptance: (label: string, finding_key: string, reason: string): Of<'acceptance'> => ({
    kind: 'acceptance', id: uuid(), label: label.slice(0, 80), finding_key, reason,
  }),
}
