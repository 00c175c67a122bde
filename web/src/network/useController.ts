/** The controller of the open job: how it is reached, what it was like when last read, what is being sent to it. */
import { useTimeoutPoll } from '@vueuse/core'
import { defineStore } from 'pinia'
import { computed, ref, shallowRef, watch } from 'vue'
import { api, take } from '@/api/client'
import type { ConnectionShown, LiveShown, Person, PushShown } from '@/api/schema'
import { useGuarded } from '@/api/useGuarded'
import { useAssessment } from '@/job/useAssessment'
import { useJob } from '@/job/useJob'
import { useView } from '@/job/useView'

const READ_MS = 4000
const STEP_MS = 500

export const useController = defineStore('controller', () => {
  const job = useJob()
  const assessment = useAssessment()
  const view = useView()
  // What a person asked for has its own words: reading goes on beside it and must not wipe them away.
  const { said: asked, busy, guarded } = useGuarded()
  const reading = useGuarded()
  const said = computed(() => asked.value || reading.said.value)
  const connection = shallowRef<ConnectionShown | null>(null)
  const live = shallowRef<LiveShown | null>(null)
  const people = shallowRef<readonly Person[]>([])
  const push = shallowRef<PushShown | null>(null)
  /** Whether it is read again and again, and shown on the sheet. */
  const watching = ref(false)
  const sending = ref(false)
  const params = () => ({ path: { job_id: job.id } })
  const pushParams = (push_id: string) => ({ path: { job_id: job.id, push_id } })

  async function look(): Promise<void> {
    connection.value =
      (await reading.guarded(() => take(api.GET('/api/jobs/{job_id}/controller', { params: params() })))) ?? null
    const last = await reading.guarded(() =>
      take(api.GET('/api/jobs/{job_id}/controller/pushes/last', { params: params() })),
    )
    push.value = last?.push ?? null
    if (connection.value?.connected) await read()
  }
  // An older answer never lies over a newer one.
  let turn = 0
  let shown = 0
  async function read(): Promise<void> {
    if (!connection.value?.connected) return
    const mine = job.id
    const now = (turn += 1)
    const found = await reading.guarded(() => take(api.GET('/api/jobs/{job_id}/controller/live', { params: params() })))
    if (mine !== job.id || !found || now < shown) return
    shown = now
    live.value = found
    if (watching.value) {
      const phones = await reading.guarded(() =>
        take(api.GET('/api/jobs/{job_id}/controller/people', { params: params() })),
      )
      if (mine === job.id) people.value = phones?.people ?? []
    }
  }
  /** Keep how it is reached; says whether that was kept. */
  async function connect(body: { address: string; account: string; secret: string | null }): Promise<boolean> {
    const driver = connection.value?.driver ?? ''
    const found = await guarded(() =>
      take(api.PUT('/api/jobs/{job_id}/controller', { params: params(), body: { driver, ...body } })),
    )
    if (!found) return false
    connection.value = found
    live.value = null
    await read()
    return true
  }
  async function setUp(): Promise<void> {
    const found = await guarded(async () => {
      await job.mustBeSaved()
      return take(api.POST('/api/jobs/{job_id}/controller/stand-in', { params: params() }))
    })
    if (!found) return
    connection.value = found
    await read()
  }
  async function forget(): Promise<void> {
    const found = await guarded(() => take(api.DELETE('/api/jobs/{job_id}/controller', { params: params() })))
    if (!found) return
    connection.value = found
    live.value = null
    people.value = []
    watching.value = false
  }
  async function blink(serial: string, on: boolean): Promise<void> {
    const body = { serial, on }
    await guarded(() => take(api.POST('/api/jobs/{job_id}/controller/blink', { params: params(), body })))
    await read()
  }

  /** Send step by step until it is done, stopped, or somebody stops it here. */
  async function begin(): Promise<void> {
    const made = await guarded(async () => {
      await job.mustBeSaved()
      return take(api.POST('/api/jobs/{job_id}/controller/pushes', { params: params() }))
    })
    if (made) await carryOn(made)
  }
  async function resume(): Promise<void> {
    const now = push.value
    if (!now) return
    const found = await guarded(() =>
      take(api.POST('/api/jobs/{job_id}/controller/pushes/{push_id}/resume', { params: pushParams(now.id) })),
    )
    if (found) await carryOn(found)
  }
  async function carryOn(from: PushShown): Promise<void> {
    const mine = job.id
    push.value = from
    sending.value = true
    while (sending.value && mine === job.id && push.value.state === 'ready') {
      const now: PushShown = push.value
      if (now.steps.some((one) => one.state === 'under way')) await new Promise((done) => setTimeout(done, STEP_MS))
      const found = await guarded(() =>
        take(api.POST('/api/jobs/{job_id}/controller/pushes/{push_id}/next', { params: pushParams(now.id) })),
      )
      if (!found) break
      if (mine === job.id) push.value = found
    }
    sending.value = false
    if (mine === job.id) await read()
  }
  async function stop(): Promise<void> {
    sending.value = false
    const now = push.value
    if (!now) return
    const found = await guarded(() =>
      take(api.POST('/api/jobs/{job_id}/controller/pushes/{push_id}/stop', { params: pushParams(now.id) })),
    )
    if (found) push.value = found
  }
  async function goBack(): Promise<void> {
    const now = push.value
    if (!now) return
    const found = await guarded(() =>
      take(api.POST('/api/jobs/{job_id}/controller/pushes/{push_id}/back', { params: pushParams(now.id) })),
    )
    if (found) push.value = found
    await read()
  }

  const poll = useTimeoutPoll(
    async () => {
      if (view.stage === 'network') await read()
    },
    READ_MS,
    { immediate: false },
  )
  watch(watching, (on) => {
    if (on) poll.resume()
    else poll.pause()
  })
  watch(
    () => job.id,
    () => {
      connection.value = live.value = push.value = null
      people.value = []
      watching.value = sending.value = false
      asked.value = reading.said.value = ''
    },
  )
  // The plan moved: what differs is another thing now.
  watch(
    () => assessment.revision,
    () => {
      if (live.value && !sending.value && view.stage === 'network') void read()
    },
  )
  const findings = computed(() => live.value?.findings ?? [])
  return {
    connection,
    live,
    people,
    push,
    watching,
    sending,
    said,
    busy,
    findings,
    look,
    read,
    connect,
    setUp,
    forget,
    blink,
    begin,
    resume,
    stop,
    goBack,
  }
})
