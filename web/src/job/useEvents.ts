import { useEventSource } from '@vueuse/core'
import { watch } from 'vue'

/**
 * Listen for the job's revision, whoever made the edit; stops with its scope. `onDoubt` is called when the
 * stream broke off: what was said meanwhile was not heard.
 */
export function useEvents(jobId: string, onRevision: (revision: number) => void, onDoubt: () => void): void {
  const { data, status } = useEventSource(`/api/jobs/${jobId}/events`, ['revision'] as const, {
    autoReconnect: { delay: 3000 },
  })
  watch(data, (text) => {
    const said: unknown = text ? JSON.parse(text) : null
    if (typeof said === 'object' && said !== null && 'revision' in said) onRevision(Number(said.revision))
  })
  watch(status, (now, before) => {
    if (now === 'CLOSED' && before === 'OPEN') onDoubt()
  })
}
