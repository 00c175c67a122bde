/** Hand-overs of the open job: begun, made file by file with progress and a way to stop, and those that are frozen. */
import { computed, onScopeDispose, ref, shallowRef } from 'vue'
import { api, take } from '@/api/client'
import type { EditionShown, Signing } from '@/api/schema'
import { useGuarded } from '@/api/useGuarded'
import { useJob } from '@/job/useJob'

export function useHandOver() {
  const job = useJob()
  const { said, guarded } = useGuarded()
  const every = shallowRef<readonly EditionShown[]>([])
  const now = shallowRef<EditionShown | null>(null)
  const going = ref(false)
  const params = { path: { job_id: job.id } }
  const path = (edition_id: string) => ({ path: { job_id: job.id, edition_id } })

  async function look(): Promise<void> {
    const found = await guarded(() => take(api.GET('/api/jobs/{job_id}/hand-overs', { params })))
    if (found) every.value = found.editions
    const left = every.value.find((one) => one.state === 'making')
    if (!going.value) now.value = left ?? null
  }
  async function go(): Promise<void> {
    going.value = true
    while (going.value && now.value?.state === 'making') {
      const { id } = now.value
      const made = await guarded(() =>
        take(api.POST('/api/jobs/{job_id}/hand-overs/{edition_id}/next', { params: path(id) })),
      )
      if (!made) break
      now.value = made
    }
    if (now.value?.state !== 'making') now.value = null
    going.value = false
    const words = said.value
    await look()
    if (words) said.value = words
  }
  async function begin(signing: Signing): Promise<void> {
    const begun = await guarded(async () => {
      await job.mustBeSaved()
      return take(api.POST('/api/jobs/{job_id}/hand-overs', { params, body: signing }))
    })
    if (!begun) return
    now.value = begun
    await go()
  }
  async function stop(): Promise<void> {
    going.value = false
    const id = now.value?.id
    now.value = null
    if (id) await guarded(() => take(api.POST('/api/jobs/{job_id}/hand-overs/{edition_id}/stop', { params: path(id) })))
    await look()
  }
  onScopeDispose(() => {
    going.value = false
  })
  void look().then(() => (now.value ? go() : undefined))
  const signed = computed(() => every.value.filter((one) => one.state === 'signed'))
  return { said, now, signed, making: going, begin, stop }
}
