/** Where the person is: stage, storey, what is selected and pointed at, which signal is drawn. */
import { defineStore } from 'pinia'
import { computed, ref, shallowRef, watch } from 'vue'
import type { Finding, Offer, Sum, WayPlace } from '@/api/schema'
import { useAssessment } from '@/job/useAssessment'
import { useJob } from '@/job/useJob'
import type { Band, XY } from '@/job/types'
import type { ToolName } from '@/sheet/tools'
import { storeyOf } from '@/sheet/elements'

/** A layer of the air by its name in the library. */
export type Signal = string
/** What is laid beside the design: a variant, or straight rays; half and half, or as a difference. */
export interface Compare { readonly id: string; readonly how: 'split' | 'difference' }
export type Way = 'weaker' | 'down' | 'up'

export const useView = defineStore('view', () => {
  const job = useJob()
  const assessment = useAssessment()
  const stage = ref('air')
  const chosenStorey = ref<string | null>(null)
  const selected = ref<string | null>(null)
  const many = shallowRef<ReadonlySet<string>>(new Set())
  const look = ref<'sheet' | '3d'>('sheet')
  const tool = ref<ToolName>('select')
  const band = ref<Band>('5')
  const signal = ref<Signal>('best')
  const way = ref<Way>('weaker')
  const failed = ref<string | null>(null)
  const compare = shallowRef<Compare | null>(null)
  const split = ref(0.5)
  /** Points a plan would place, shown before it is used. */
  const ghosts = shallowRef<Offer['placement']['points'] | null>(null)
  const walk = ref<string | null>(null)
  const walkStep = ref(0)
  const drawer = ref(false)
  /** A table or panel of the drawer asked for by name. */
  const panel = ref<string | null>(null)
  const pointed = shallowRef<{ finding: Finding; y: number } | null>(null)
  const openSum = shallowRef<Sum | null>(null)
  /** The way round that serves the place whose sum is open. */
  const route = shallowRef<readonly WayPlace[]>([])
  watch(openSum, (sum) => { if (!sum) route.value = [] })
  const goTo = shallowRef<XY | null>(null)

  const storeys = computed(() => job.of('storey').toSorted((a, b) => a.elevation_m - b.elevation_m))
  const storey = computed(() => storeys.value.find((s) => s.id === chosenStorey.value) ?? storeys.value[0] ?? null)
  const element = computed(() => (selected.value ? job.elements.get(selected.value) : undefined))

  function select(id: string | null): void {
    many.value = new Set()
    selected.value = id
    const target = id ? job.elements.get(id) : undefined
    const home = target && storeyOf(target, job.elements)
    if (home) chosenStorey.value = home
  }
  /** A press on something drawn: selects it, unless a tool is in hand and the press is the tool's. */
  function pick(event: Event, id: string): void {
    if (tool.value !== 'select') return
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
  function floor(step: 1 | -1): void {
    const at = storeys.value.findIndex((s) => s.id === storey.value?.id)
    const next = storeys.value[at + step]
    if (next) chosenStorey.value = next.id
  }
  function visit(finding: Finding): void {
    const subject = finding.subject_ids.find((id) => job.elements.has(id))
    if (subject) select(subject)
    if (finding.place) {
      chosenStorey.value = finding.place.storey_id
      goTo.value = finding.place.at
    }
    pointed.value = { finding, y: 0 }
  }
  function stepFinding(by: 1 | -1): void {
    const list = assessment.open
    if (!list.length) return
    const now = list.findIndex((finding) => finding.key === pointed.value?.finding.key)
    const start = now < 0 && by < 0 ? 0 : now
    const next = list[(start + by + list.length) % list.length]
    if (next) visit(next)
  }
  return {
    stage, storey, storeys, chosenStorey, selected, many, look, pickMany, isChosen, element, tool, band, signal, way, failed, compare, split, ghosts, walk, walkStep, panel, drawer, pointed, openSum, route, goTo,
    select, pick, floor, visit, stepFinding,
  }
})
