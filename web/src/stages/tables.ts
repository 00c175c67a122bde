/** The tables of the stages: columns over what the core computed. Rows select on the sheet. */
import type { Assessment, Sum } from '@/api/schema'
import type { Element } from '@/job/types'

export interface Cell { readonly text?: string; readonly value?: number; readonly unit?: string; readonly digits?: number; readonly bad?: boolean; readonly sum?: Sum }
export interface Column { readonly key: string; readonly name: string; readonly right?: boolean }
export interface Row { readonly id: string; readonly selects: string | null; readonly cells: Readonly<Record<string, Cell>> }
export interface Table { readonly name: string; readonly columns: readonly Column[]; readonly rows: readonly Row[]; readonly empty: string }

const col = (key: string, name: string, right = false): Column => ({ key, name, right })
const text = (value: string | number | null | undefined, bad = false): Cell => ({ text: value === null || value === undefined ? '–' : String(value), bad })
const qty = (value: number | null | undefined, unit: string, digits = 1, sum?: Sum, bad = false): Cell =>
  value === null || value === undefined ? { text: '–', bad } : { value, unit, digits, sum, bad }

/** The busiest hour of a space, as Brief carries it to Air. */
function peakOf(a: Assessment, id: string): Cell {
  const peak = a.demand.find((d) => d.space_id === id)?.peak
  return qty(peak?.value, 'Mb/s', 1, peak)
}
function spaces(a: Assessment): Table {
  return {
    name: 'Spaces', empty: 'Draw spaces with a need in stage 2; they are scored here.',
    columns: [col('space', 'Space'), col('need', 'Need'), col('area', 'Area', true), col('demand', 'Demand', true), col('share', 'Meets it', true), col('chance', 'Chance', true), col('best', 'Worst best', true), col('second', 'Second', true)],
    rows: a.spaces.map((s) => ({
      id: s.space_id, selects: s.space_id,
      cells: { space: text(s.label), need: text(`${s.need_label}, ${s.band} GHz`), area: qty(s.area_m2, 'm2', 0), demand: peakOf(a, s.space_id), share: qty(Math.floor(s.share * 1000) / 10, '%', 1, s.sum, !s.holds), chance: qty(Math.floor(s.chance * 100), '%', 0), best: qty(s.worst_dbm, 'dBm', 0), second: s.worst_second_dbm > -140 ? qty(s.worst_second_dbm, 'dBm', 0) : text('none') },
    })),
  }
}
function radios(a: Assessment): Table {
  return {
    name: 'Radios', empty: 'Place an access point (A); its channels are planned here.',
    columns: [col('point', 'Access point'), col('band', 'GHz', true), col('channel', 'Channel', true), col('width', 'Width', true), col('power', 'Power', true), col('eirp', 'EIRP', true), col('limit', 'Limit', true), col('why', 'Why this channel')],
    rows: a.radios.map((r) => ({
      id: `${r.point_id}${r.band}`, selects: r.point_id,
      cells: { point: text(r.label), band: text(r.band), channel: text(r.channel), width: qty(r.width_mhz, 'MHz', 0), power: qty(r.power_dbm, 'dBm'), eirp: qty(r.eirp_dbm, 'dBm', 1, undefined, r.eirp_limit_dbm !== null && r.eirp_limit_dbm !== undefined && r.eirp_dbm > r.eirp_limit_dbm), limit: qty(r.eirp_limit_dbm, 'dBm', 0), why: text(r.reason) },
    })),
  }
}
function runs(a: Assessment, only: (environments: readonly string[]) => boolean, name: string, empty: string): Table {
  return {
    name, empty,
    columns: [col('run', 'Run'), col('to', 'To'), col('cable', 'Cable'), col('length', 'Length', true), col('limit', 'Limit', true), col('hot', 'Hottest', true), col('speed', 'Speed', true), col('through', 'Through'), col('holes', 'Walls drilled', true)],
    rows: a.runs.filter((r) => only(r.environments)).map((r) => ({
      id: r.run_id, selects: r.run_id,
      cells: { run: text(r.label), to: text(r.to_label), cable: text(r.cable_label), length: qty(r.length_m, 'm', 1, r.length_sum, !r.holds), limit: qty(r.limit_m, 'm', 1, r.limit_sum), hot: qty(r.hottest_c, 'C', 0), speed: qty(r.speed_mbps, 'Mb/s', 0), through: text(r.environments.join(', ')), holes: text(r.drilled.length) },
    })),
  }
}
function ports(a: Assessment): Table {
  return {
    name: 'Ports', empty: 'Add a switch to a rack; every run gets a port here.',
    columns: [col('port', 'Port'), col('run', 'Run'), col('to', 'To'), col('speed', 'Speed', true), col('needs', 'Needs', true), col('gives', 'Class', true), col('asks', 'Asks', true), col('watts', 'Watts', true), col('pin', 'Pin')],
    rows: a.ports.map((p) => ({
      id: `${p.switch_id}${p.port}`, selects: p.run_id ?? p.switch_id,
      cells: { port: text(`${p.switch_label}/${p.port}${p.uplink ? ' uplink' : ''}`), run: text(p.run_label || 'free'), to: text(p.to_label), speed: qty(p.speed_mbps, 'Mb/s', 0), needs: p.run_id ? qty(p.needs_mbps, 'Mb/s', 0) : text(''), gives: text(p.poe_class || '–'), asks: text(p.needs_class || '', !p.holds), watts: p.watts ? qty(p.watts, 'W') : text(''), pin: text(p.pinned ? 'pinned' : '') },
    })),
  }
}
function budgets(a: Assessment): Table {
  return {
    name: 'Budgets', empty: 'Add a switch to a rack; its power budget stands here.',
    columns: [col('switch', 'Switch'), col('model', 'Model'), col('used', 'Used', true), col('budget', 'Budget', true), col('class', 'By class', true), col('most', 'By maximum', true), col('usual', 'By typical', true), col('ports', 'Ports', true)],
    rows: a.budgets.map((b) => ({
      id: b.switch_id, selects: b.switch_id,
      cells: { switch: text(b.label), model: text(b.model_label), used: qty(b.used_w, 'W', 1, b.sum, !b.holds), budget: qty(b.budget_w, 'W', 0), class: qty(b.by_class_w, 'W'), most: qty(b.by_maximum_w, 'W'), usual: qty(b.by_typical_w, 'W'), ports: text(`${b.ports_used} / ${b.ports_total}`) },
    })),
  }
}
function feeds(a: Assessment): Table {
  return {
    name: 'Feeds', empty: 'Runs to powered things appear here with the voltage at their end.',
    columns: [col('run', 'Run'), col('class', 'Class', true), col('loop', 'Loop', true), col('most', 'Device most', true), col('source', 'At the port', true), col('volt', 'Lowest voltage', true), col('least', 'Needs', true)],
    rows: a.feeds.map((f) => ({
      id: f.run_id, selects: f.run_id,
      cells: { run: text(f.label), class: text(f.poe_class), loop: qty(f.loop_ohm, 'ohm', 2), most: qty(f.device_max_w, 'W'), source: qty(f.max_source_w, 'W'), volt: qty(f.worst_pd_v, 'V', 1, f.sum, !f.holds), least: qty(f.least_pd_v, 'V') },
    })),
  }
}
function networks(a: Assessment, all: readonly Element[]): Table {
  const by = new Map(all.map((e) => [e.id, e]))
  return {
    name: 'Networks', empty: 'Propose the usual networks with the button above, clear of the service’s own subnet.',
    columns: [col('name', 'Network'), col('purpose', 'Purpose'), col('vlan', 'VLAN', true), col('subnet', 'Subnet'), col('gateway', 'Gateway'), col('wanted', 'Wanted', true), col('usable', 'Usable', true), col('isolated', 'Isolated'), col('internet', 'Internet')],
    rows: a.scopes.map((s) => {
      const network = by.get(s.network_id)
      const is = network?.kind === 'network' ? network : undefined
      return { id: s.network_id, selects: s.network_id, cells: { name: text(s.label), purpose: text(is?.purpose), vlan: text(s.vlan), subnet: text(s.subnet), gateway: text(s.gateway), wanted: qty(s.wanted, '', 0, s.sum, !s.holds), usable: qty(s.usable, '', 0), isolated: text(is?.isolated ? 'yes' : 'no'), internet: text(is?.internet ? 'yes' : 'no') } }
    }),
  }
}
function names(a: Assessment): Table {
  return {
    name: 'Names on the air', empty: 'Networks with a name on the air appear here.',
    columns: [col('name', 'Name'), col('network', 'Network'), col('bands', 'GHz'), col('security', 'Security')],
    rows: a.names.map((n) => ({ id: n.ssid_id, selects: n.ssid_id, cells: { name: text(n.label), network: text(n.network_label), bands: text(n.bands.join(', ')), security: text(n.security) } })),
  }
}
function kit(a: Assessment): Table {
  return {
    name: 'Kit', empty: 'What the job needs is counted here as it is placed.',
    columns: [col('group', 'Group'), col('item', 'Item'), col('need', 'Need', true), col('spare', 'Spare', true), col('order', 'Order', true), col('each', 'Each', true), col('cost', 'Cost', true), col('why', 'Counted from')],
    rows: a.kit.map((k, i) => ({
      id: `${k.item}${i}`, selects: null,
      cells: { group: text(k.group), item: text(k.label), need: qty(k.need, k.unit === 'm' ? 'm' : '', k.unit === 'm' ? 1 : 0), spare: k.spare ? qty(k.spare, k.unit === 'm' ? 'm' : '', 0) : text(''), order: text(k.pack > 1 ? `${k.order} × ${k.pack}` : k.order), each: qty(k.each, '', 2), cost: qty(k.cost, '', 2), why: text(k.why) },
    })),
  }
}
function hours(a: Assessment): Table {
  return {
    name: 'Hours', empty: 'Hours are counted here as the job grows.',
    columns: [col('task', 'Task'), col('count', 'Count', true), col('per', 'Per'), col('each', 'Each', true), col('hours', 'Hours', true)],
    rows: a.hours.map((h) => ({ id: h.label, selects: null, cells: { task: text(h.label), count: qty(h.count, '', h.per === 'm' ? 1 : 0), per: text(h.per), each: qty(h.each_h, 'h', 2), hours: qty(h.hours, 'h') } })),
  }
}

/** The tables of a stage. */
export function tablesOf(stage: number, a: Assessment, all: readonly Element[]): Table[] {
  switch (stage) {
    case 2: return [spaces(a)]
    case 3: return [spaces(a), radios(a)]
    case 4: return [runs(a, (e) => e.includes('outdoor'), 'Runs that leave a house', 'No run leaves a house. When one does, its way, length and earths stand here.')]
    case 5: return [runs(a, () => true, 'Runs', 'Run cables to everything with the button above, or one by one (C).')]
    case 6: return [ports(a), budgets(a), feeds(a)]
    case 7: return [networks(a, all), names(a)]
    case 8: return [kit(a), hours(a)]
    default: return []
  }
}
