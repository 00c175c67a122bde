/** What the firm decides of the order, and how to change a part of it: the first change puts it into the job. */
import { computed } from 'vue'
import { useMake } from '@/job/make'
import { put, type Of } from '@/job/types'
import { useJob } from '@/job/useJob'

export type Ordering = Of<'ordering'>

export function useOrdering() {
  const job = useJob()
  const make = useMake()
  const kept = computed(() => job.of('ordering')[0])
  const ordering = computed<Ordering>(() => kept.value ?? make('ordering', { label: 'Order' }))
  function change(label: string, changes: Partial<Ordering>): void {
    job.edit(label, [put({ ...ordering.value, ...changes })])
  }
  return { ordering, change }
}
