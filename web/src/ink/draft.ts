/** What is typed stays while it is typed: a value that changes meanwhile shows when the field is left. */
import type { ObjectDirective } from 'vue'

type Shown = string | number | null | undefined
const text = (value: Shown): string => (value === null || value === undefined ? '' : String(value))
const shown = new WeakMap<HTMLInputElement, string>()

/** Whether somebody is typing something else into a field than it showed. */
function typing(field: HTMLInputElement): boolean {
  return document.activeElement === field && field.value !== shown.get(field)
}

function show(field: HTMLInputElement, value: Shown): void {
  const now = text(value)
  if (typing(field) && field.value !== now) {
    if (now === shown.get(field)) return
    field.title = `Changed meanwhile to ${now || 'nothing'}`
    field.classList.add('meanwhile')
    return
  }
  field.value = now
  shown.set(field, now)
  field.title = ''
  field.classList.remove('meanwhile')
}

/** `v-draft="value"` in the place of `:value="value"`. */
export const vDraft: ObjectDirective<HTMLInputElement, Shown> = {
  mounted: (field, { value }) => {
    show(field, value)
    field.addEventListener('change', () => shown.set(field, field.value))
  },
  updated: (field, { value }) => show(field, value),
}
