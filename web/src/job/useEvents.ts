import { useEventSource, useTimeoutFn } from '@vueuse/core'
import { watch } from 'vue'

const DOUBT_MS = 1000

/**
 * Listen for the job's revision, whoever made the edit; stops with its scope. `onDoubt` is called when the
 * stream broke off or is there again: what was said meanwhile was not heard, and what waits may go now.
 */
export function useEvents(jobId: string, onRevision: (revision: number) => void, onDoubt: () => void): void {
  const { data, status } = useEventSource(`/api/jobs/${jobId}/events`, ['revision'] as const, {
    autoReconnect: { delay: 3000 },
  })
  watch(data, (text) => {
    const said: unknown = text ? JSON.parse(text) : null
    if (typeof said === 'object' && said !== null && 'revision' in said) onRevision(Number(said.revision))
  })
  // Not at once: a page that is being left closes its stream too, and asks nothing any more.
  let broke = false
  const doubt = useTimeoutFn(onDoubt, DOUBT_MS, { immediate: false })
  watch(status, (now, before) => {
    if (now === 'OPEN' && broke) onDoubt()
    broke ||= before === 'OPEN'
    if (before === 'OPEN') doubt.start()
  })
}
