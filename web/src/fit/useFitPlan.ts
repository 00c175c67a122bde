/** The tasks with their days, put together for reading; and what a person holds of them. */
import { computed } from 'vue'
import { api, take } from '@/api/client'
import type { Planned, Task } from '@/api/schema'
import { useAsked } from '@/job/useAsked'
import { useMake } from '@/job/make'
import { put, type Of } from '@/job/types'
import { useJob } from '@/job/useJob'
import { useProven } from '@/prove/useProven'

export type Fitting = Of<'fitting'>
export interface Done {
  readonly task: Task
  readonly when: Planned
}

export function useFitPlan() {
  const job = useJob()
  const make = useMake()
  const params = { path: { job_id: job.id } }
  const { found, said } = useAsked(() => take(api.GET('/api/jobs/{job_id}/fit/plan', { params })))
  const { found: far } = useAsked(() => take(api.GET('/api/jobs/{job_id}/fit/done', { params })))
  const proven = useProven()
  /** Whether a task is ticked, or proven by what was measured. */
  const isDone = (key: string): boolean =>
    (far.value?.done[key]?.done ?? false) || (far.value?.proven.includes(key) ?? false)
  const writtenAt = (key: string) => far.value?.done[key]
  /** Tick tasks, or open them again. What is proven by a record of its own (a test) is not ticked. */
  function tick(tasks: readonly Task[], done: boolean): void {
    const some = tasks.filter((task) => !task.records.includes('test') && isDone(task.key) !== done)
    const kind = done ? ('done' as const) : ('undone' as const)
    if (some.length)
      void proven.write(...some.map((task) => ({ kind, subject: task.subjects[0] ?? 'job', task: task.key })))
  }
  const kept = computed(() => job.of('fitting')[0])
  const fitting = computed<Fitting>(() => kept.value ?? make('fitting', { label: 'Fitting' }))
  const rows = computed<Done[]>(() => {
    const planned = new Map((found.value?.planned ?? []).map((one) => [one.key, one]))
    return (found.value?.tasks ?? []).flatMap((task) => {
      const when = planned.get(task.key)
      return when ? [{ task, when }] : []
    })
  })
  function change(label: string, changes: Partial<Fitting>): void {
    job.edit(label, [put({ ...fitting.value, ...changes })])
  }
  /** Put a task on a day, or give it to somebody; nothing of both lets it go again. */
  function hold(task: Task, on: string | null, who: string | null): void {
    const others = fitting.value.held.filter((one) => one.task !== task.key)
    const held = on === null && who === null ? others : [...others, { task: task.key, on, who }]
    change(`Hold ${task.label}`, { held })
  }
  function letGo(keys: readonly string[]): void {
    change('Let held tasks go that are no more', {
      held: fitting.value.held.filter((one) => !keys.includes(one.task)),
    })
  }
  const heldOf = (key: string) => fitting.value.held.find((one) => one.task === key)
  return { found, said, isDone, writtenAt, tick, rows, fitting, change, hold, letGo, heldOf }
}
