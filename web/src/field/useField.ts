/**
 * A job on a phone: what was taken along, kept here, fetched anew whenever there is a line; and how each task stands with what was
 * written here and is not sent yet.
 */
import { useIntervalFn } from '@vueuse/core'
import { computed, ref, shallowRef } from 'vue'
import { api, Refusal, take } from '@/api/client'
import type { FieldTaken, Planned, Task } from '@/api/schema'
import { keepPack, packOf } from '@/site/store'
import { useRecords } from '@/site/useRecords'

export interface Todo {
  readonly task: Task
  readonly when: Planned
  readonly done: boolean
  readonly waits: boolean
}

const FRESH_MS = 60_000

export function useField(jobId: string) {
  const taken = shallowRef<FieldTaken | null>(null)
  const takenAt = ref('')
  const said = ref('')
  const away = ref(false)

  async function fetchPack(): Promise<void> {
    try {
      const found = await take(api.GET('/api/jobs/{job_id}/field', { params: { path: { job_id: jobId } } }))
      const at = new Date().toISOString()
      taken.value = found
      takenAt.value = at
      away.value = false
      said.value = ''
      await keepPack({ jobId, taken: found, at }).catch(() => {
        said.value = 'This device has no room left for what is taken along. It works while there is a signal.'
      })
    } catch (error) {
      away.value = !(error instanceof Refusal)
      if (error instanceof Refusal) said.value = `${error.message} What was taken along before is shown.`
    }
  }
  const records = useRecords(
    () => jobId,
    () => void fetchPack(),
  )
  async function open(): Promise<void> {
    const kept = await packOf(jobId).catch(() => undefined)
    if (kept) {
      taken.value = kept.taken
      takenAt.value = kept.at
    }
    await fetchPack()
  }
  const ready = open()
  useIntervalFn(() => void fetchPack(), FRESH_MS)

  /** How tasks stand: as the server last said, then what was written here since, in its order. */
  const done = computed(() => {
    const found = new Map<string, boolean>()
    for (const [key, one] of Object.entries(taken.value?.done ?? {})) found.set(key, one.done)
    for (const key of taken.value?.proven ?? []) found.set(key, true)
    for (const { record } of records.waiting.value) {
      if (!record.task) continue
      if (record.kind === 'done') found.set(record.task, true)
      if (record.kind === 'undone') found.set(record.task, false)
      // No record, not done: a test that passed is one.
      if (record.measured?.measured === 'test') found.set(record.task, record.measured.verdict === 'pass')
    }
    return found
  })
  const todos = computed<Todo[]>(() => {
    const plan = taken.value?.pack.plan
    if (!plan) return []
    const planned = new Map(plan.planned.map((one) => [one.key, one]))
    const rows = plan.tasks.flatMap((task) => {
      const when = planned.get(task.key)
      const waits = task.after.some((key) => !done.value.get(key))
      return when ? [{ task, when, done: done.value.get(task.key) ?? false, waits }] : []
    })
    return rows.sort((a, b) => a.when.day - b.when.day || a.when.from_h - b.when.from_h)
  })
  const left = computed(() => todos.value.filter((one) => !one.done))
  /** What comes next: of what waits for nothing, the first; else the first that is left. */
  const next = computed(() => left.value.find((one) => !one.waits) ?? left.value[0])
  /** What comes after a task in the order of the days, of what waits for nothing; from the start again at the end. */
  function after(key: string): Todo | undefined {
    const at = todos.value.findIndex((one) => one.task.key === key)
    const round = [...todos.value.slice(at + 1), ...todos.value.slice(0, Math.max(at, 0))]
    return round.find((one) => !one.done && !one.waits) ?? round.find((one) => !one.done)
  }
  return { taken, takenAt, said, away, records, todos, left, next, after, done, ready, fetchPack }
}

export type Field = ReturnType<typeof useField>
