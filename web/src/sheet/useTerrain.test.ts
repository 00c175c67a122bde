import { createPinia, setActivePinia } from 'pinia'
import { effectScope, nextTick, type EffectScope } from 'vue'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import type { LibraryAnswer } from '@/api/schema'
import { useAirView } from '@/air/useAirView'
import type { Element, Of } from '@/job/types'
import { useJob } from '@/job/useJob'
import { useLibrary } from '@/job/useLibrary'
import { useTerrain } from '@/sheet/useTerrain'

const point = (x_m: number) => ({ kind: 'access-point', id: 'p', at: { x_m, y_m: 0 } }) as unknown as Of<'access-point'>
vi.mock('@/sheet/terrain', () => ({ decode: (body: ArrayBuffer) => ({ bytes: body.byteLength }) }))

interface Asked {
  band: string
  moved: { at: { x_m: number } } | null
  signal: string
  variant?: string | null
  quick?: boolean
  go: (status?: number) => void
}
let asked: Asked[] = []
let scope: EffectScope
let terrain: ReturnType<typeof useTerrain>
const settle = async () => {
  for (let i = 0; i < 20; i++) await nextTick()
  await new Promise((done) => setTimeout(done))
}
const answer = async (at: number, status = 200) => {
  asked[at]?.go(status)
  await settle()
}

beforeEach(async () => {
  setActivePinia(createPinia())
  asked = []
  vi.stubGlobal('fetch', async (request: Request) => {
    const body = (await request.json()) as Omit<Asked, 'go'>
    return new Promise<Response>((done) => {
      const go = (status = 200) =>
        done(
          status === 200
            ? new Response(new ArrayBuffer(asked.length))
            : new Response(JSON.stringify({ status, detail: 'No.' }), {
                status,
                headers: { 'Content-Type': 'application/json' },
              }),
        )
      asked.push({ ...body, go })
    })
  })
  const job = useJob()
  job.id = '00000000-0000-7000-8000-000000000001'
  job.elements = new Map([['s', { kind: 'storey', id: 's', label: 'Ground', elevation_m: 0 } as unknown as Element]])
  job.loaded = true
  useLibrary().read = { layers: { best: { levels: [-67] } } } as unknown as LibraryAnswer
  scope = effectScope()
  terrain = scope.run(() => useTerrain(() => true)) as ReturnType<typeof useTerrain>
  await settle()
})
afterEach(() => {
  scope.stop()
  vi.unstubAllGlobals()
})

describe('the terrain', () => {
  it('is asked for the band looked at, then for the others while the hand rests', async () => {
    expect(asked.map((a) => a.band)).toEqual(['5'])
    await answer(0)
    await answer(1)
    await answer(2)
    expect(asked.map((a) => a.band)).toEqual(['5', '2.4', '6'])
    expect([...terrain.beside.value.keys()]).toEqual(['2.4', '6'])
  })
  it('of a dragged point is only ever asked for once at a time, and the latest place wins', async () => {
    await answer(0)
    await answer(1)
    await answer(2)
    const drag = [1, 2, 3, 4].map((x) => terrain.ask(point(x)))
    await settle()
    expect(asked).toHaveLength(4)
    await answer(3)
    expect(asked.slice(3).map((a) => [a.moved?.at.x_m, a.quick])).toEqual([
      [1, true],
      [4, true],
    ])
    await answer(4)
    await Promise.all(drag)
    expect(asked).toHaveLength(5)
  })
  it('that the server refuses is none, and the next is asked for', async () => {
    await answer(0, 422)
    expect(terrain.terrain.value).toBeNull()
    expect(asked.length).toBeGreaterThan(1)
  })
  it('stays as it is when the server is away', async () => {
    await answer(0)
    const before = terrain.terrain.value
    await answer(1)
    await answer(2)
    void terrain.ask(null)
    await settle()
    await answer(3, 503)
    expect(terrain.terrain.value).toBe(before)
  })
  it('beside a variant is asked for both', async () => {
    await answer(0)
    await answer(1)
    await answer(2)
    useAirView().compare = { id: 'v', how: 'split' }
    await settle()
    await answer(3)
    await answer(4)
    expect(asked.slice(3).map((a) => a.variant ?? null)).toEqual([null, 'v'])
    expect(terrain.other.value).not.toBeNull()
  })
  it('as a difference is one layer, against the design or against straight rays', async () => {
    await answer(0)
    await answer(1)
    await answer(2)
    useAirView().compare = { id: 'straight', how: 'difference' }
    await settle()
    await answer(3)
    expect(asked[3]).toMatchObject({ signal: 'difference', variant: null, against: 'straight' })
    expect(terrain.other.value).toBeNull()
  })
})
