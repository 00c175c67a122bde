/** Where the person is: the stage, the storey, the tool in hand, and which sum is open. */
import { useLocalStorage } from '@vueuse/core'
import { defineStore } from 'pinia'
import { computed, ref, shallowRef, watch } from 'vue'
import type { Sum, WayPlace } from '@/api/schema'
import { useJob } from '@/job/useJob'
import type { XY } from '@/job/types'
import type { ToolName } from '@/sheet/tools'

export const useView = defineStore('view', () => {
  const job = useJob()
  const stage = ref('air')
  const look = ref<'sheet' | '3d'>('sheet')
  const tool = ref<ToolName>('select')
  const drawer = ref(false)
  /** How much of the middle the open drawer takes, as this person left it. */
  const drawerShare = useLocalStorage('heathrise.drawer', 0.46)
  /** A table or panel of the drawer asked for by name. */
  const panel = ref<string | null>(null)
  const chosenStorey = ref<string | null>(null)
  const openSum = shallowRef<Sum | null>(null)
  /** The way round that serves the place whose sum is open. */
  const route = shallowRef<readonly WayPlace[]>([])
  watch(openSum, (sum) => {
    if (!sum) route.value = []
  })
  /** A place the sheet is to bring into sight. */
  const goTo = shallowRef<XY | null>(null)

  const storeys = computed(() => job.of('storey').toSorted((a, b) => a.elevation_m - b.elevation_m))
  /** The one people enter: nearest the ground, so that a job does not open on its cellar. */
  const entered = computed(
    () => storeys.value.toSorted((a, b) => Math.abs(a.elevation_m) - Math.abs(b.elevation_m))[0] ?? null,
  )
  const storey = computed(() => storeys.value.find((s) => s.id === chosenStorey.value) ?? entered.value)

  function floor(step: 1 | -1): void {
    const at = storeys.value.findIndex((s) => s.id === storey.value?.id)
    const next = storeys.value[at + step]
    if (next) chosenStorey.value = next.id
  }
  return { stage, look, tool, drawer, drawerShare, panel, storeys, storey, chosenStorey, floor, openSum, route, goTo }
})
