/** The brief at hand and how to change a part of it. */
import { computed } from 'vue'
import { put, type Of } from '@/job/types'
import { useJob } from '@/job/useJob'

export type Brief = Of<'brief'>
export type Count = Brief['devices'][number]

export function useBrief() {
  const job = useJob()
  const brief = computed(() => job.of('brief')[0])
  function change(label: string, changes: Partial<Brief>): void {
    if (brief.value) job.edit(label, [put({ ...brief.value, ...changes })])
  }
  return { brief, change }
}

/** Today as the calendar writes it here. */
export function today(): string {
  const now = new Date()
  return new Date(now.getTime() - now.getTimezoneOffset() * 60_000).toISOString().slice(0, 10)
}
