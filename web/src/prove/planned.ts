/** What would be seen if all were as planned, out of what is planned: where somebody looks and types only what differs. */
import type { Check, PointProof, PortProof, PointSeen, PortSeen } from '@/api/schema'

const number = (text: string): number | null => {
  const found = /-?\d+(\.\d+)?/.exec(text)
  return found ? Number(found[0]) : null
}
const of = (checks: readonly Check[], code: string): Check | undefined => checks.find((one) => one.code === code)

export function portAsPlanned(port: PortProof): PortSeen {
  return {
    measured: 'port',
    mbps: of(port.checks, 'speed')?.limit ?? null,
    watts: of(port.checks, 'watts')?.limit ?? null,
    network: of(port.checks, 'network')?.planned ?? '',
    by_controller: false,
  }
}

const BANDS = ['2.4', '5', '6'] as const
export function pointAsPlanned(point: PointProof): PointSeen {
  const radio = (band: string): PointSeen['radios'][number] => {
    const named = (what: string): Check | undefined => point.checks.find((one) => one.name === `${what}, ${band} GHz`)
    return {
      band: band as (typeof BANDS)[number],
      channel: number(named('Channel')?.planned ?? ''),
      power_dbm: named('Power')?.limit ?? null,
    }
  }
  const on = BANDS.filter((band) => point.checks.some((one) => one.name.endsWith(`, ${band} GHz`)))
  return {
    measured: 'point',
    serial: point.serial || (of(point.checks, 'serial')?.found ?? ''),
    radios: on.map(radio),
    joined: Object.keys(point.names),
    not_joined: [],
    guest_kept_out: point.guests ? true : null,
    by_controller: false,
  }
}
