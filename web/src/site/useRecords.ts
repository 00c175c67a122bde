/**
 * Records of a job: written into this device first, then sent, oldest first; nothing is dropped before the server says that it
 * stands there. Who writes is asked once a device.
 */
import { useEventListener, useIntervalFn, useLocalStorage } from '@vueuse/core'
import { v7 as uuid } from 'uuid'
import { computed, onScopeDispose, ref, shallowRef } from 'vue'
import { api, inForm, Refusal, take } from '@/api/client'
import type { Record as SiteRecord } from '@/api/schema'
import {
  device,
  dropPhoto,
  dropRecords,
  keepRecords,
  photosOf,
  refusePhoto,
  waitingOf,
  type Waiting,
  type WaitingPhoto,
} from '@/site/store'

const EVERY_MS = 15_000
const AT_ONCE = 500
/** Said again later: the server is busy, or too many ask. */
const LATER = new Set([408, 425, 429])
export type Written = Pick<SiteRecord, 'kind' | 'subject'> & Partial<SiteRecord>

export function useRecords(jobId: () => string, onSent: () => void = () => {}) {
  const me = useLocalStorage('heathrise.me', '')
  const waiting = shallowRef<readonly Waiting[]>([])
  const offline = ref(false)
  const said = ref('')
  const sending = ref(false)
  const photos = shallowRef<readonly WaitingPhoto[]>([])
  /** What the server will not have: it stays here until a person lets it go. */
  const refused = computed(() => [
    ...waiting.value.flatMap(({ id, record, refused: why }) =>
      why ? [{ id, what: record.text || record.kind, why, photo: false }] : [],
    ),
    ...photos.value.flatMap(({ id, refused: why }) => (why ? [{ id, what: 'A photograph', why, photo: true }] : [])),
  ])
  /** One window of this device at a time sends. */
  async function under(work: () => Promise<void>): Promise<void> {
    await (navigator.locks ? navigator.locks.request(`heathrise.site.${jobId()}`, work) : work())
  }

  async function look(): Promise<void> {
    waiting.value = await waitingOf(jobId())
    photos.value = await photosOf(jobId())
  }
  function made(written: Written): Waiting {
    const id = uuid()
    const record: SiteRecord = {
      id,
      said_at: new Date().toISOString(),
      by: me.value.trim() || 'somebody',
      at: null,
      task: null,
      text: '',
      number: null,
      photo: null,
      about: null,
      measured: null,
      ...written,
    }
    return { id, jobId: jobId(), record }
  }
  /** Keep what was written; it is sent at once where there is a line. False where this device has no room for it. */
  async function write(all: readonly Written[], photo?: Blob): Promise<boolean> {
    const photoId = photo ? uuid() : null
    const kept = all.map((one, n) => made(n === 0 && photoId ? { ...one, photo: photoId } : one))
    try {
      await keepRecords(kept, photo && photoId ? { id: photoId, jobId: jobId(), blob: photo } : undefined)
    } catch {
      said.value = 'This device has no room left: it was not kept. Free some room and write it again.'
      return false
    }
    said.value = ''
    await look()
    void send()
    return true
  }
  async function sendPhotos(): Promise<void> {
    for (const photo of (await photosOf(jobId())).filter((one) => !one.refused)) {
      const path = { job_id: jobId(), photo_id: photo.id }
      try {
        await take(
          api.POST('/api/jobs/{job_id}/photos/{photo_id}', { params: { path }, body: inForm(photo.blob, 'photo.jpg') }),
        )
      } catch (error) {
        if (!(error instanceof Refusal) || LATER.has(error.problem.status)) throw error
        await refusePhoto(photo, error.message)
        continue
      }
      await dropPhoto(photo.id)
    }
  }
  /** Send one lot; returns whether there is more. */
  async function sendLot(): Promise<boolean> {
    const lot = (await waitingOf(jobId())).filter((one) => !one.refused).slice(0, AT_ONCE)
    if (!lot.length) return false
    const params = { path: { job_id: jobId() } }
    const body = { device: device(), sent_at: new Date().toISOString(), records: lot.map((one) => ({ ...one.record })) }
    const answer = await take(api.POST('/api/jobs/{job_id}/records', { params, body }))
    await dropRecords(answer.kept)
    const why = new Map(answer.refused.map((one) => [one.id, one.why]))
    const odd = lot.filter((one) => why.has(one.id)).map((one) => ({ ...one, refused: why.get(one.id) ?? '' }))
    if (odd.length) await keepRecords(odd)
    return answer.kept.length > 0 && lot.length === AT_ONCE
  }
  async function send(): Promise<void> {
    if (sending.value) return
    sending.value = true
    try {
      await under(async () => {
        const open = [...(await waitingOf(jobId())), ...(await photosOf(jobId()))].filter((one) => !one.refused)
        if (!open.length) return
        await sendPhotos()
        while (await sendLot());
        onSent()
      })
      offline.value = false
    } catch (error) {
      offline.value = !(error instanceof Refusal)
      if (error instanceof Refusal) said.value = `Not sent: ${error.message} It stays on this device.`
    } finally {
      sending.value = false
      await look()
    }
  }
  async function forget(one: { id: string; photo: boolean }): Promise<void> {
    await (one.photo ? dropPhoto(one.id) : dropRecords([one.id]))
    await look()
  }
  useEventListener('online', () => void send())
  const timer = useIntervalFn(() => void send(), EVERY_MS)
  onScopeDispose(timer.pause)
  void look().then(send)
  return { me, waiting, refused, offline, said, sending, write, send, look, forget }
}
