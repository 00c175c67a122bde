import { onScopeDispose } from 'vue'

/** Listen for the job's revision growing, whoever made the edit; stops with its scope. */
export function useEvents(jobId: string, onRevision: (revision: number) => void): void {
  const source = new EventSource(`/api/jobs/${jobId}/events`)
  source.addEventListener('revision', (event: MessageEvent<string>) => {
    const data: unknown = JSON.parse(event.data)
    if (typeof data === 'object' && data !== null && 'revision' in data) onRevision(Number(data.revision))
  })
  onScopeDispose(() => source.close())
}
