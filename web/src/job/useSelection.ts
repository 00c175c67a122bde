/** What is selected: one thing, or many. */
import { defineStore } from 'pinia'
import { computed, ref, shallowRef } from 'vue'
import { useJob } from '@/job/useJob'
import { useView } from '@/job/useView'
import { storeyOf } from '@/sheet/elements'

export const useSelection = defineStore('selection', () => {
  const job = useJob()
  const view = useView()
  const selected = ref<string | null>(null)
  const many = shallowRef<ReadonlySet<string>>(new Set())
  const element = computed(() => (selected.value ? job.elements.get(selected.value) : undefined))

  /** Select one thing, or nothing; the sheet turns to its storey. */
  function select(id: string | null): void {
    many.value = new Set()
    selected.value = id
    const target = id ? job.elements.get(id) : undefined
    const home = target && storeyOf(target, job.elements)
    if (home) view.chosenStorey = home
  }
  /** A press on something drawn: selects it, unless a tool is in hand and the press is the tool's. */
  function pick(event: Event, id: string): void {
    if (view.tool !== 'select') return
    event.stopPropagation()
    if (event instanceof MouseEvent && (event.shiftKey || event.ctrlKey)) addToMany(id)
    else select(id)
  }
  /** Shift and a press: one more, or one less, of many. */
  function addToMany(id: string): void {
    const next = new Set(many.value.size ? many.value : selected.value ? [selected.value] : [])
    if (!next.delete(id)) next.add(id)
    pickMany(next)
  }
  function pickMany(ids: Iterable<string>): void {
    const next = new Set(ids)
    if (next.size < 2) return select([...next][0] ?? null)
    selected.value = null
    many.value = next
  }
  function isChosen(id: string): boolean {
    return selected.value === id || many.value.has(id)
  }
  return { selected, many, element, select, pick, addToMany, pickMany, isChosen }
})
