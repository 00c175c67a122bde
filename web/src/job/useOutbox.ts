/** Waiting work of every job that is not open here: sent from whichever window is open, and shown in the job list. */
import { useIntervalFn } from '@vueuse/core'
import { defineStore } from 'pinia'
import { shallowRef } from 'vue'
import { deliver, type Outcome } from '@/job/deliver'
import { drop, keep, takeOver } from '@/job/keeping'
import type { Waiting } from '@/job/queue'
import { useJob } from '@/job/useJob'

const EVERY_MS = 10_000

export interface Left {
  readonly jobId: string
  readonly jobName: string
  readonly edits: readonly Waiting[]
  readonly why: string
  /** The job is no more: its edits can only be let go. */
  readonly gone: boolean
}

function words(outcome: Outcome): string {
  switch (outcome.is) {
    case 'clash':
      return 'Somebody else changed the same. Open the job and choose.'
    case 'gone':
      return outcome.how === 'bin' ? 'The job lies in the bin. Put it back to keep them.' : 'The job was deleted.'
    case 'later':
    case 'refused':
    case 'nothing':
      return outcome.why
    default:
      return ''
  }
}

export const useOutbox = defineStore('outbox', () => {
  const job = useJob()
  const left = shallowRef<readonly Left[]>([])
  let busy = false

  /** Send the edits of one job in order; returns what is left of them and why. */
  async function sendAll(edits: readonly Waiting[]): Promise<Left | null> {
    const [first] = edits
    if (!first) return null
    const rest = [...edits]
    let why = ''
    let gone = false
    for (const edit of edits) {
      if (edit.jobId === job.id) return null
      if (edit.refused) {
        why ||= 'Not kept as it is. Open the job and decide.'
        continue
      }
      const outcome = await deliver(edit, 0)
      if (outcome.is === 'refused') await keep({ ...edit, refused: outcome.why })
      if (outcome.is === 'kept' || outcome.is === 'nothing') {
        await drop(edit.editId)
        rest.splice(rest.indexOf(edit), 1)
        continue
      }
      why = words(outcome)
      gone = outcome.is === 'gone' && outcome.how === 'deleted'
      if (outcome.is !== 'refused') break
    }
    return rest.length ? { jobId: first.jobId, jobName: first.jobName, edits: rest, why, gone } : null
  }

  async function round(): Promise<void> {
    if (busy) return
    busy = true
    try {
      const mine = await takeOver()
      job.join(mine)
      const elsewhere = mine.filter((edit) => edit.jobId !== job.id)
      const found: Left[] = []
      for (const jobId of new Set(elsewhere.map((edit) => edit.jobId))) {
        const rest = await sendAll(elsewhere.filter((edit) => edit.jobId === jobId))
        if (rest) found.push(rest)
      }
      left.value = found
    } finally {
      busy = false
    }
  }

  async function letGo(jobId: string): Promise<void> {
    const going = left.value.find((one) => one.jobId === jobId)
    for (const edit of going?.edits ?? []) await drop(edit.editId)
    left.value = left.value.filter((one) => one.jobId !== jobId)
  }

  useIntervalFn(() => void round(), EVERY_MS, { immediateCallback: true })
  return { left, round, letGo }
})
