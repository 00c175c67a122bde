/** The drawing being imported: sent, read on the server, looked at in pencil, accepted or left. */
import { defineStore } from 'pinia'
import { v7 as uuid } from 'uuid'
import { computed, ref, shallowRef } from 'vue'
import type { EditAnswer, ImportAsked, ImportState } from '@/api/schema'
import { api, inForm, take } from '@/api/client'
import { useGuarded } from '@/api/useGuarded'
import { useJob } from '@/job/useJob'
import { useView } from '@/job/useView'

const POLL_MS = 250
type Proposal = NonNullable<ImportState['reading']>['proposal']
export type PencilStorey = Proposal['storeys'][number]
export type Doubt = Proposal['doubts'][number]
export type OpeningKind = PencilStorey['openings'][number]['opening_kind']
export type Corners = NonNullable<ImportAsked['corners']>
/** What a person says of a proposed storey. */
export interface StoreySaid {
  take: boolean
  label: string
  elevation_m: number | null
}

export const useImport = defineStore('import', () => {
  const job = useJob()
  const view = useView()
  const state = shallowRef<ImportState | null>(null)
  const rejected = shallowRef<ReadonlySet<string>>(new Set())
  const { said: error, guarded } = useGuarded()
  const sending = ref(false)
  const page = ref(0)
  const password = ref('')
  /** Openings a person took for another kind. */
  const kinds = shallowRef<ReadonlyMap<string, OpeningKind>>(new Map())
  const said = ref<StoreySaid[]>([])
  /** Guesses alike that are pointed out on the sheet. */
  const lit = ref('')
  const shownStorey = ref(0)
  /** A drawing that was dropped on the job list, and the job made for it: read as soon as that one is open. */
  const waiting = shallowRef<{ jobId: string; file: File } | null>(null)
  let polling: ReturnType<typeof setTimeout> | undefined
  /** What was guessed of storeys when something was last said of them, and what was said of guesses alike. */
  let guessed: string[] = []
  let pageBefore = 0
  const chosen = new Map<string, OpeningKind | 'out' | 'guess'>()
  /** What any reading of this file has shown. */
  const met = new Set<string>()

  const reading = computed(() => state.value?.reading ?? null)
  const storey = computed<PencilStorey | null>(() => reading.value?.proposal.storeys[shownStorey.value] ?? null)
  const picture = computed(() =>
    reading.value?.picture_px && state.value
      ? `/api/jobs/${job.id}/imports/${state.value.id}/picture?${state.value.reading?.metres_per_unit}`
      : null,
  )
  const original = computed(() =>
    reading.value?.picture_px && state.value ? `/api/jobs/${job.id}/imports/${state.value.id}/original` : null,
  )
  const kept = computed(() => {
    const all = (reading.value?.proposal.storeys ?? []).filter((_, i) => said.value[i]?.take ?? true)
    const count = (pick: (s: PencilStorey) => readonly { id: string }[]) =>
      all.flatMap(pick).filter((x) => !rejected.value.has(x.id)).length
    return { walls: count((s) => s.walls), openings: count((s) => s.openings), spaces: count((s) => s.spaces) }
  })

  function path() {
    return { params: { path: { job_id: job.id, import_id: state.value?.id ?? '' } } }
  }
  function take_(next: ImportState): void {
    if (next.reading && next.reading.proposal !== reading.value?.proposal) {
      // Read again, what is where it was has the id it had: what was said of it stands.
      const there = new Set(
        next.reading.proposal.storeys.flatMap((s) => [...s.walls, ...s.openings, ...s.spaces].map((x) => x.id)),
      )
      rejected.value = new Set([...rejected.value].filter((id) => there.has(id)))
      kinds.value = new Map([...kinds.value].filter(([id]) => there.has(id)))
      lit.value = ''
      const storeys = next.reading.proposal.storeys
      const same = storeys.length === guessed.length && storeys.every((s, i) => s.label === guessed[i])
      guessed = storeys.map((s) => s.label)
      // Read again by another scale or page turn, what was said of the same storeys stands.
      if (!same) {
        said.value = storeys.map((s) => ({ take: true, label: s.label, elevation_m: s.elevation_m ?? null }))
      }
    }
    state.value = next
    // What is new among things alike is as a person said of those; what was there is as it was left.
    for (const doubt of reading.value?.proposal.doubts ?? []) {
      const as = chosen.get(`${doubt.of} ${doubt.alike}`)
      const fresh = alikeTo(doubt).filter((id) => !met.has(id))
      if (as && fresh.length) put(fresh, as)
    }
    for (const s of reading.value?.proposal.storeys ?? []) {
      for (const x of [...s.walls, ...s.openings, ...s.spaces]) met.add(x.id)
    }
    shownStorey.value = 0
    clearTimeout(polling)
    if (next.state === 'running') polling = setTimeout(() => void poll(), POLL_MS)
  }
  const poll = () =>
    guarded(async () => {
      if (state.value) take_((await take(api.GET('/api/jobs/{job_id}/imports/{import_id}', path()))) as ImportState)
    })

  const send = (file: File) =>
    guarded(async () => {
      sending.value = true
      try {
        const params = { path: { job_id: job.id } }
        const begun = await take(
          api.POST('/api/jobs/{job_id}/imports', { params, body: inForm(file, file.name, { page: 0 }) }),
        )
        rejected.value = new Set()
        page.value = 0
        password.value = ''
        guessed = []
        chosen.clear()
        met.clear()
        take_(begun as ImportState)
      } finally {
        sending.value = false
      }
    })
  const ask = (asked: Partial<ImportAsked>) =>
    guarded(async () => {
      const roles = Object.fromEntries((reading.value?.layers ?? []).map((layer) => [layer.name, layer.role]))
      if (reading.value) pageBefore = page.value
      page.value = asked.page ?? page.value
      const corners = reading.value?.corners ?? null
      const body = { roles, page: page.value, scale: {}, corners, password: password.value, ...asked } as ImportAsked
      take_((await take(api.PUT('/api/jobs/{job_id}/imports/{import_id}', { ...path(), body }))) as ImportState)
    })
  /** Go back to what was read before, with all that was said of it. */
  const back = () =>
    guarded(async () => {
      take_((await take(api.POST('/api/jobs/{job_id}/imports/{import_id}/back', path()))) as ImportState)
      page.value = pageBefore
    })
  const accept = () =>
    job.during(() =>
      guarded(async () => {
        await job.mustBeSaved()
        const body = {
          edit_id: uuid(),
          actor: job.actor,
          base_revision: job.revision,
          storey_id: view.storey?.id ?? null,
          rejected: [...rejected.value],
          kinds: [...kinds.value].map(([id, opening_kind]) => ({ id, opening_kind })),
          storeys: said.value.map((s) => ({ ...s, label: s.label.trim() || null })),
          keep_picture: true,
        }
        job.takeIn(
          (await take(api.POST('/api/jobs/{job_id}/imports/{import_id}/accept', { ...path(), body }))) as EditAnswer,
        )
        forget()
      }),
    )
  async function leave(): Promise<void> {
    const going = path()
    forget()
    await guarded(async () => {
      await api.DELETE('/api/jobs/{job_id}/imports/{import_id}', going)
    })
  }
  function forget(): void {
    clearTimeout(polling)
    state.value = null
    rejected.value = new Set()
    error.value = ''
  }
  function reject(ids: Iterable<string>, out: boolean): void {
    const next = new Set(rejected.value)
    for (const id of ids) {
      if (out) next.add(id)
      else next.delete(id)
    }
    rejected.value = next
  }
  function toggle(id: string): void {
    reject([id], !rejected.value.has(id))
  }
  const isSure = (certainty: number) => certainty >= (reading.value?.proposal.doubtful_below ?? 0)
  function alikeTo(doubt: Doubt): string[] {
    const all = reading.value?.proposal.storeys ?? []
    const rows = (s: PencilStorey): readonly { id: string; alike: string }[] =>
      ({ wall: s.walls, opening: s.openings, space: s.spaces })[doubt.of]
    return all.flatMap((s) => rows(s).flatMap((row) => (row.alike === doubt.alike ? [row.id] : [])))
  }
  /** Put all that is alike right at once: openings of another kind, or left out, or as they were guessed. */
  function putRight(doubt: Doubt, as: OpeningKind | 'out' | 'guess'): void {
    chosen.set(`${doubt.of} ${doubt.alike}`, as)
    put(alikeTo(doubt), as)
  }
  function put(ids: readonly string[], as: OpeningKind | 'out' | 'guess'): void {
    reject(ids, as === 'out')
    const next = new Map(kinds.value)
    for (const id of ids) {
      if (as === 'out' || as === 'guess') next.delete(id)
      else next.set(id, as)
    }
    kinds.value = next
  }
  function putAs(doubt: Doubt): OpeningKind | 'out' | 'guess' {
    const ids = alikeTo(doubt)
    if (ids.every((id) => rejected.value.has(id))) return 'out'
    return (ids[0] && kinds.value.get(ids[0])) || 'guess'
  }
  return {
    state,
    reading,
    storey,
    shownStorey,
    picture,
    original,
    password,
    kinds,
    said,
    lit,
    putRight,
    putAs,
    isSure,
    rejected,
    kept,
    error,
    sending,
    page,
    waiting,
    send,
    ask,
    back,
    accept,
    leave,
    forget,
    reject,
    toggle,
  }
})
