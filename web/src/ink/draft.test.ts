import { afterEach, beforeEach, describe, expect, it } from 'vitest'
import { createApp, h, nextTick, ref, withDirectives, type App } from 'vue'
import { vDraft } from '@/ink/draft'

const value = ref<string | number | null>('Hall')
const beside = ref(0)
let app: App
let field: HTMLInputElement

beforeEach(() => {
  value.value = 'Hall'
  const host = document.body.appendChild(document.createElement('div'))
  app = createApp(() => [String(beside.value), withDirectives(h('input'), [[vDraft, value.value]])])
  app.mount(host)
  field = host.querySelector('input') as HTMLInputElement
})
afterEach(() => {
  app.unmount()
  document.body.replaceChildren()
})
function type(text: string): void {
  field.focus()
  field.value = text
}

describe('a field that is being typed into', () => {
  it('keeps what is typed when something beside it changes', async () => {
    type('Porc')
    beside.value += 1
    await nextTick()
    expect(field.value).toBe('Porc')
    expect(field.title).toBe('')
  })

  it('keeps what is typed when a colleague changes the value, and says so', async () => {
    type('Porc')
    value.value = 'Landing'
    await nextTick()
    expect(field.value).toBe('Porc')
    expect(field.title).toBe('Changed meanwhile to Landing')
  })

  it('shows the value once it has been sent', async () => {
    type('Porch')
    field.dispatchEvent(new Event('change'))
    value.value = 'Porch, tidied'
    await nextTick()
    expect(field.value).toBe('Porch, tidied')
  })
})

it.each(['Landing', 12, null])('a field nobody types into shows the value: %s', async (next) => {
  value.value = next
  await nextTick()
  expect(field.value).toBe(next === null ? '' : String(next))
})
