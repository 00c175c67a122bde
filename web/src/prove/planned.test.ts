import { describe, expect, it } from 'vitest'
import type { Check, PointProof, PortProof } from '@/api/schema'
import { pointAsPlanned, portAsPlanned } from '@/prove/planned'

const check = (code: string, name: string, planned: string, limit: number | null = null): Check => ({
  code,
  name,
  planned,
  found: '',
  holds: null,
  value: null,
  limit,
  unit: '',
})

describe('what would be seen if all were as planned', () => {
  it('is a port with its speed, its watts and its network', () => {
    const port = {
      checks: [
        check('speed', 'Speed', '2500 Mb/s', 2500),
        check('watts', 'Power', '14.6 W at most', 14.63),
        check('network', 'Network', 'School'),
      ],
    } as unknown as PortProof
    expect(portAsPlanned(port)).toMatchObject({ mbps: 2500, watts: 14.63, network: 'School', by_controller: false })
  })

  it('leaves out of a port what is not planned there', () => {
    const port = { checks: [check('speed', 'Speed', '1000 Mb/s', 1000)] } as unknown as PortProof
    expect(portAsPlanned(port)).toMatchObject({ watts: null, network: '' })
  })

  it('is a point with the channel and power of each radio that is on, every name joined, guests kept out', () => {
    const point = {
      serial: 'SN-1',
      names: { a: 'school', b: 'school-guest' },
      guests: true,
      checks: [
        check('channel', 'Channel, 2.4 GHz', '6', 6),
        check('power', 'Power, 2.4 GHz', '11 dBm', 11),
        check('channel', 'Channel, 5 GHz', '132', 132),
        check('power', 'Power, 5 GHz', '17 dBm', 17),
      ],
    } as unknown as PointProof
    expect(pointAsPlanned(point)).toMatchObject({
      serial: 'SN-1',
      radios: [
        { band: '2.4', channel: 6, power_dbm: 11 },
        { band: '5', channel: 132, power_dbm: 17 },
      ],
      joined: ['a', 'b'],
      not_joined: [],
      guest_kept_out: true,
    })
  })

  it('says nothing of guests where none are let on', () => {
    const point = { serial: '', names: {}, guests: false, checks: [] } as unknown as PointProof
    expect(pointAsPlanned(point)).toMatchObject({ serial: '', radios: [], guest_kept_out: null })
  })
})
