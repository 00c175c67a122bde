import { ref } from 'vue'
import { describe, expect, it } from 'vitest'
import { inForm, refuse, Refusal, take, Unreachable } from '@/api/client'
import { useGuarded, wordsOf } from '@/api/useGuarded'

const problem = { status: 422, title: 'Refused', detail: 'The wall has no length.' }

describe('a guarded call', () => {
  it('gives what it found and says nothing', async () => {
    const { said, guarded } = useGuarded()
    expect(await guarded(async () => 7)).toBe(7)
    expect(said.value).toBe('')
  })
  it('says a refusal in the words of the server', async () => {
    const { said, guarded } = useGuarded()
    const found = await guarded(async () => {
      throw new Refusal(problem)
    })
    expect([found, said.value]).toEqual([undefined, 'The wall has no length.'])
  })
  it('says a lost connection', async () => {
    const { said, guarded } = useGuarded()
    await guarded(async () => {
      throw new Unreachable('The server was not reached.')
    })
    expect(said.value).toBe('The server was not reached.')
  })
  it('says it where it is told to', async () => {
    const notice = ref('an older one')
    const { guarded } = useGuarded(notice)
    const work = guarded(async () => {
      throw new Refusal(problem)
    })
    expect(notice.value).toBe('')
    await work
    expect(notice.value).toBe('The wall has no length.')
  })
  it('is busy while it is under way, and after an error no more', async () => {
    const { busy, guarded } = useGuarded()
    let go: (n: number) => void = () => undefined
    const work = guarded(() => new Promise<number>((done) => (go = done)))
    expect(busy.value).toBe(true)
    go(1)
    await work
    expect(busy.value).toBe(false)
    await expect(guarded(() => Promise.reject(new RangeError('ours')))).rejects.toThrow('ours')
    expect(busy.value).toBe(false)
  })
  it('throws an error of ours on', () => {
    expect(() => wordsOf(new TypeError('ours'))).toThrow('ours')
  })
})

describe('an answer', () => {
  const answer = (status: number, body: unknown) => ({
    data: undefined,
    error: body,
    response: new Response(null, { status }),
  })
  it.each([502, 503, 504])('of %i is a server that keeps nothing just now', async (status) => {
    const call = take(Promise.resolve(answer(status, { ...problem, status, detail: 'The database is away.' })))
    await expect(call).rejects.toThrow(new Unreachable('The database is away.'))
  })
  it('that is no problem document is still a refusal with its number', () => {
    expect(() => refuse(new Response(null, { status: 418 }), 'tea')).toThrow('The server answered 418.')
  })
  it('that never came is a server not reached', async () => {
    await expect(take(Promise.reject(new TypeError('no network')))).rejects.toThrow('The server was not reached.')
  })
  it('that was given up is given up, not refused', async () => {
    const given = new DOMException('stopped', 'AbortError')
    await expect(take(Promise.reject(given))).rejects.toBe(given)
  })
})

describe('a file in a form', () => {
  it('carries its name and the fields beside it', () => {
    const form = inForm(new Blob(['x']), 'plan.dxf', { page: 3 }) as unknown as FormData
    expect((form.get('file') as File).name).toBe('plan.dxf')
    expect(form.get('page')).toBe('3')
  })
})
