/** The jobs as the list shows them: searched, sorted as this person left it, archived ones apart. */
import { useLocalStorage } from '@vueuse/core'
import { computed, ref, type Ref } from 'vue'
import type { JobListed } from '@/api/schema'

export type SortBy = 'changed' | 'name' | 'open' | 'elements'
const OF: Readonly<Record<SortBy, (job: JobListed) => string | number>> = {
  changed: (job) => job.changed,
  name: (job) => job.name.toLocaleLowerCase(),
  open: (job) => 1000 * (job.faults ?? 0) + (job.warnings ?? 0),
  elements: (job) => job.elements,
}

export function useJobTable(jobs: Ref<readonly JobListed[] | null>) {
  const text = ref('')
  const sort = useLocalStorage<{ by: SortBy; down: boolean }>('heathrise.jobs', { by: 'changed', down: true })
  const archived = ref(false)
  const putAway = computed(() => jobs.value?.filter((job) => job.archived).length ?? 0)
  const shown = computed(() => {
    const words = text.value.toLocaleLowerCase().split(/\s+/).filter(Boolean)
    const of = OF[sort.value.by]
    return (jobs.value ?? [])
      .filter((job) => job.archived === archived.value)
      .filter((job) => words.every((word) => job.name.toLocaleLowerCase().includes(word)))
      .toSorted((a, b) => {
        const [x, y] = [of(a), of(b)]
        return (x < y ? -1 : x > y ? 1 : 0) * (sort.value.down ? -1 : 1)
      })
  })
  /** A press on a heading sorts by it; a second one turns it round. */
  function by(name: SortBy): void {
    sort.value = { by: name, down: sort.value.by === name ? !sort.value.down : name !== 'name' }
  }
  const sorted = (name: SortBy): 'ascending' | 'descending' | 'none' =>
    sort.value.by !== name ? 'none' : sort.value.down ? 'descending' : 'ascending'
  return { text, archived, putAway, shown, by, sorted }
}
