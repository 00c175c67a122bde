/** Build-ups: the library's and this job's own, what their layers cost, and changing them. */
import { v7 as uuid } from 'uuid'
import { computed, ref, shallowRef, watch } from 'vue'
import type { LayersAnswer } from '@/api/schema'
import { api, take } from '@/api/client'
import { useGuarded } from '@/api/useGuarded'
import { put, remove, type Of } from '@/job/types'
import { useJob } from '@/job/useJob'
import { ink, type ChartConfiguration } from '@/ink/charts'
import { useLibrary } from '@/job/useLibrary'

type Own = Of<'build-up'>
interface Layer {
  material: string
  thickness_mm: number
}

export function useBuildUps() {
  const job = useJob()
  const library = useLibrary()
  const code = ref('concrete-150')
  const layers = ref<Layer[]>([])
  const domain = computed(() => job.of('site')[0]?.domain ?? 'etsi-like')
  const computedLoss = shallowRef<LayersAnswer | null>(null)
  const { said, guarded } = useGuarded()
  const own = computed(() => new Map(job.of('build-up').map((b) => [b.code, b])))
  const rows = computed(() =>
    Object.entries(library.shelves?.build_ups ?? {}).map(([id, b]) => ({
      id,
      label: b.label,
      kind: b.kind,
      losses: [b.loss_24_db, b.loss_5_db, b.loss_6_db],
      layers: b.layers as [string, number][],
      own: own.value.has(id),
    })),
  )
  const row = computed(() => rows.value.find((r) => r.id === code.value))
  const mine = computed(() => own.value.get(code.value))
  const values = computed(() =>
    mine.value && !mine.value.layers.length
      ? [mine.value.loss_24_db, mine.value.loss_5_db, mine.value.loss_6_db]
      : (row.value?.losses ?? []),
  )
  const materials = computed(() => Object.keys(library.shelves?.slab_materials ?? {}))

  async function compute(): Promise<void> {
    computedLoss.value = null
    if (!layers.value.length) return
    const body = { domain: domain.value, layers: layers.value }
    computedLoss.value =
      ((await guarded(() => take(api.POST('/api/build-ups/loss', { body })))) as LayersAnswer | undefined) ?? null
  }
  function byFrequency(): ChartConfiguration {
    const middles = library.shelves?.domains[domain.value]?.middle_ghz ?? []
    const design = middles.map((x, i) => ({ x, y: values.value[i] ?? 0 }))
    const curve = (computedLoss.value?.curve ?? []).map(([x, y]) => ({ x, y }))
    return {
      type: 'scatter',
      data: {
        datasets: [
          { label: 'layers', data: curve, showLine: true, pointRadius: 0, borderColor: ink('--tarn'), borderWidth: 2 },
          {
            label: 'design value',
            data: design,
            pointRadius: 5,
            pointStyle: 'rectRot',
            backgroundColor: ink('--heather'),
            borderColor: ink('--heather'),
          },
        ],
      },
      options: {
        plugins: { legend: { labels: { color: ink('--ink'), usePointStyle: true } } },
        scales: {
          x: {
            type: 'linear',
            min: 1,
            max: 7.5,
            title: { display: true, text: 'GHz', color: ink('--ink-quiet') },
            grid: { color: ink('--rule') },
            ticks: { color: ink('--ink-quiet') },
          },
          y: {
            beginAtZero: true,
            title: { display: true, text: 'dB', color: ink('--ink-quiet') },
            grid: { color: ink('--rule') },
            ticks: { color: ink('--ink-quiet') },
          },
        },
      },
    }
  }
  watch(
    [row, mine],
    ([now]) => {
      const from = mine.value?.layers.length
        ? mine.value.layers.map((l) => [l.material, l.thickness_mm] as const)
        : (now?.layers ?? [])
      layers.value = from.map(([material, thickness_mm]) => ({ material, thickness_mm }))
      void compute()
    },
    { immediate: true },
  )

  function body(changes: Partial<Own>): Own {
    const [a = 0, b = 0, c = 0] = values.value
    return {
      kind: 'build-up',
      order: mine.value?.order ?? 0,
      id: mine.value?.id ?? uuid(),
      label: row.value?.label ?? 'Own build-up',
      code: code.value,
      build_kind: row.value?.kind ?? 'wall',
      loss_24_db: a,
      loss_5_db: b,
      loss_6_db: c,
      layers: [],
      drill_hours: library.shelves?.build_ups[code.value]?.drill_hours ?? 0.3,
      reason: 'this job',
      ...changes,
    }
  }
  function setValue(index: number, event: Event): void {
    const value = Number((event.target as HTMLInputElement).value.replace(',', '.'))
    if (!Number.isFinite(value) || value < 0 || value > 100) {
      said.value = 'A loss is a number of decibels from 0 to 100.'
      return
    }
    const key = (['loss_24_db', 'loss_5_db', 'loss_6_db'] as const)[index] ?? 'loss_5_db'
    job.edit(`Own value for ${row.value?.label ?? ''}`, [put(body({ [key]: value }))])
  }
  function useLayers(): void {
    job.edit(`Layers for ${row.value?.label ?? ''}`, [put(body({ layers: layers.value.map((l) => ({ ...l })) }))])
  }
  function back(): void {
    if (mine.value) job.edit(`${mine.value.label} as in the library`, [remove(mine.value.id)])
  }
  function addOwn(): void {
    const fresh = `own-${job.of('build-up').length + 1}`
    code.value = fresh
    job.edit('Add a build-up', [
      put({
        ...body({}),
        id: uuid(),
        code: fresh,
        label: `Own build-up ${job.of('build-up').length + 1}`,
        build_kind: 'wall',
      }),
    ])
  }
  function addLayer(): void {
    layers.value.push({ material: 'concrete', thickness_mm: 100 })
    void compute()
  }
  function dropLayer(at: number): void {
    layers.value.splice(at, 1)
    void compute()
  }
  return {
    code,
    layers,
    computedLoss,
    said,
    rows,
    row,
    mine,
    values,
    materials,
    byFrequency,
    compute,
    addLayer,
    dropLayer,
    setValue,
    useLayers,
    back,
    addOwn,
  }
}
