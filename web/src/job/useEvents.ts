import { useEventSource } from '@vueuse/core'
import { watch } from 'vue'

/** Listen for the job's revision growing, whoever made the edit; stops with its scope. */
export function useEvents(jobId: string, onRevision: (revision: number) => void): void {
  const { data } = useEventSource(`/api/jobs/${jobId}/events`, ['revision'] as const)
  watch(data, (text) => {
    const said: unknown = text ? JSON.parse(text) : null
    if (typeof said === 'object' && said !== null && 'revision' in said) onRevision(Number(said.revision))
  })
}
