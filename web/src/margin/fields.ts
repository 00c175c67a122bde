/** Which fields of which kind a person edits in the margin. The core checks every value. */
import type { LibraryAnswer } from '@/api/schema'
import { FIXTURES, LINES } from '@/job/make'
import type { Kind } from '@/job/types'

export type FieldType = 'text' | 'number' | 'choice' | 'yes'
export interface Field {
  readonly path: string
  readonly label: string
  readonly type: FieldType
  readonly unit?: string
  readonly empty?: boolean
  readonly options?: readonly (readonly [string, string])[] | ((shelves: LibraryAnswer) => readonly (readonly [string, string])[])
}

function shelf(name: 'access_points' | 'switches' | 'devices' | 'racks' | 'cables' | 'bores' | 'needs' | 'clients' | 'domains' | 'injectors' | 'profiles' | 'contents') {
  return (shelves: LibraryAnswer) => Object.entries(shelves[name]).map(([id, item]) => [id, item.label] as const)
}
function buildUps(...kinds: string[]) {
  return (shelves: LibraryAnswer) => Object.entries(shelves.build_ups).filter(([, b]) => kinds.includes(b.kind)).map(([id, b]) => [id, b.label] as const)
}
const same = (...values: string[]) => values.map((value) => [value, value] as const)
const text = (path: string, label: string): Field => ({ path, label, type: 'text' })
const num = (path: string, label: string, unit = '', empty = false): Field => ({ path, label, type: 'number', unit, empty })
const yes = (path: string, label: string): Field => ({ path, label, type: 'yes' })
const choice = (path: string, label: string, options: Field['options'], empty = false): Field => ({ path, label, type: 'choice', options, empty })
const text0 = (path: string, label: string): Field => ({ path, label, type: 'text', empty: true })
const NAME = text('label', 'Name')
const AT = [num('at.x_m', 'Across', 'm'), num('at.y_m', 'Down', 'm')]

export const FIELDS: Readonly<Partial<Record<Kind, readonly Field[]>>> = {
  'access-point': [
    NAME, choice('model', 'Model', shelf('access_points')), choice('mount', 'Mount', same('ceiling', 'wall', 'desk', 'outdoor')),
    num('height_m', 'Height', 'm'), num('facing_deg', 'Facing', '°'), num('tilt_deg', 'Tilt down', '°'), yes('pinned', 'Pinned'), text0('antenna', 'Antenna'), ...AT,
  ],
  device: [NAME, choice('model', 'Kind', shelf('devices')), num('height_m', 'Height', 'm'), ...AT],
  rack: [NAME, choice('model', 'Model', shelf('racks')), num('height_m', 'Height', 'm'), ...AT],
  riser: [NAME, ...AT],
  'service-entry': [NAME, ...AT],
  wall: [NAME, choice('build_up', 'Build-up', buildUps('wall', 'window'), true), num('thickness_m', 'Thickness', 'm', true), num('height_m', 'Height', 'm', true), num('a.x_m', 'From across', 'm'), num('a.y_m', 'From down', 'm'), num('b.x_m', 'To across', 'm'), num('b.y_m', 'To down', 'm')],
  opening: [
    NAME, choice('opening_kind', 'Kind', same('door', 'window', 'opening')), choice('build_up', 'Material', buildUps('door', 'window')), choice('leaf', 'Leaf', same('single', 'double', 'sliding')), num('fire_minutes', 'Fire', 'min'),
    num('width_m', 'Width', 'm'), num('at_m', 'Along wall', 'm'), num('sill_m', 'Sill', 'm'), num('height_m', 'Height', 'm'),
  ],
  space: [
    NAME, choice('space_kind', 'Kind', same('room', 'corridor', 'stair', 'atrium', 'plant', 'comms', 'loft', 'cellar', 'outdoor')), choice('need', 'Need', shelf('needs')),
    num('people', 'People'), choice('contents', 'Contents', shelf('contents')), choice('profile', 'Hours', shelf('profiles'), true), num('ceiling_m', 'Ceiling', 'm', true), num('void_m', 'Void', 'm', true), choice('slab_build_up', 'Slab below', buildUps('slab'), true), num('hottest_c', 'Hottest', 'C', true), text('building', 'House'), text('no_go', 'No-go because'),
  ],
  storey: [NAME, choice('storey_kind', 'Kind', same('floor', 'cellar', 'loft', 'roof')), num('elevation_m', 'Floor at', 'm'), num('ceiling_m', 'Ceiling', 'm'), num('void_m', 'Void', 'm'), choice('slab_build_up', 'Slab below', buildUps('slab'))],
  'no-go': [NAME, choice('reason', 'Because', same('heat', 'damp', 'lead', 'listed', 'fire-rated', 'electrical')), text('note', 'Note')],
  planting: [NAME, choice('build_up', 'Kind', buildUps('planting')), num('height_m', 'Height', 'm')],
  shaft: [NAME, choice('shaft_kind', 'Kind', same('void', 'atrium', 'stair', 'lift'))],
  fixture: [NAME, choice('fixture_kind', 'Kind', Object.entries(FIXTURES)), num('height_m', 'Height', 'm'), yes('keep', 'Stays'), text('note', 'Note'), ...AT],
  line: [NAME, choice('line_kind', 'Kind', Object.entries(LINES)), num('height_m', 'Height', 'm'), yes('keep', 'Stays'), text('note', 'Note')],
  underlay: [NAME, num('x_m', 'Left edge', 'm'), num('y_m', 'Top edge', 'm')],
  run: [NAME, choice('cable', 'Cable', shelf('cables')), choice('injector', 'Injector', shelf('injectors'), true)],
  switch: [NAME, choice('model', 'Model', shelf('switches'))],
  conduit: [NAME, choice('bore', 'Bore', shelf('bores'))],
  network: [
    NAME, choice('purpose', 'Purpose', same('main', 'guest', 'things', 'cameras', 'voice', 'management')), num('vlan', 'VLAN'), text('subnet', 'Subnet'),
    yes('isolated', 'Isolated'), yes('reaches_in', 'May reach in'), yes('internet', 'Internet'),
  ],
  ssid: [NAME, choice('security', 'Security', same('wpa3', 'transition', 'wpa2', 'open')), yes('isolation', 'Clients isolated'), yes('fast_roaming', 'Fast roaming'), num('lowest_rate_24_mbps', 'Lowest rate 2.4', 'Mb/s')],
  site: [
    choice('site_kind', 'Kind', same('school', 'home', 'clinic', 'office', 'shop')), text('address', 'Address'), choice('domain', 'Radio domain', shelf('domains')), num('built_year', 'Built', '', true),
    choice('roof_build_up', 'Roof', buildUps('roof')), num('climate.indoors_c', 'Hottest inside', 'C'), num('climate.void_c', 'Hottest void', 'C'), num('climate.loft_c', 'Hottest loft', 'C'), num('climate.outdoors_c', 'Hottest outdoors', 'C'), num('climate.indoors_coldest_c', 'Coldest inside', 'C'), num('climate.outdoors_coldest_c', 'Coldest outdoors', 'C'), num('opens_h', 'Opens', 'h'), num('closes_h', 'Closes', 'h'),
  ],
  brief: [
    choice('internet.service', 'Service', same('fibre', 'cable', 'vdsl', 'cellular', 'none')), num('internet.down_mbps', 'Down', 'Mb/s'), num('internet.up_mbps', 'Up', 'Mb/s'),
    { path: 'internet.subnet', label: 'Outside subnet', type: 'text', empty: true }, num('people_peak', 'People at peak'), num('guests_peak', 'Guests at peak'), choice('client_class', 'Judge by', shelf('clients')), num('budget', 'Budget for kit', '', true),
  ],
  practice: [
    choice('design_on', 'Design on', [['weaker', 'weaker way'], ['down', 'down only']]), choice('second_signal', 'Second signal', same('required', 'wished', 'ignored')), choice('set_24', '2.4 GHz set', same('1/6/11', '1/5/9/13')),
    choice('width_5_mhz', '5 GHz width', same('20', '40', '80')), yes('radar_channels', 'Radar channels'), choice('budget_method', 'PoE budget by', same('maximum', 'class')), choice('cable_points', 'Cable to points', shelf('cables')), choice('cable_other', 'Cable elsewhere', shelf('cables')), num('cords_m', 'Cords', 'm'),
  ],
}

/** The value at a dotted path. */
export function valueAt(body: object, path: string): unknown {
  return path.split('.').reduce<unknown>((at, key) => (typeof at === 'object' && at !== null ? (at as Record<string, unknown>)[key] : undefined), body)
}

/** A copy with the value at a dotted path replaced. */
export function withValue<T extends object>(body: T, path: string, value: unknown): T {
  const [key = '', ...rest] = path.split('.')
  const inner = (body as Record<string, unknown>)[key]
  const next = rest.length ? withValue((inner ?? {}) as object, rest.join('.'), value) : value
  return { ...body, [key]: next }
}
