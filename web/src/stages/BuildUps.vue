<script setup lang="ts">
/** Build-ups: design values, layers with what they cost by frequency, and this job's own. */
import { v7 as uuid } from 'uuid'
import { computed, ref, shallowRef, watch } from 'vue'
import type { LayersAnswer } from '@/api/schema'
import { api, take } from '@/api/client'
import { useGuarded } from '@/api/useGuarded'
import { put, remove, type Of } from '@/job/types'
import { useJob } from '@/job/useJob'
import InkChart from '@/ink/InkChart.vue'
import { ink, type ChartConfiguration } from '@/ink/charts'
import { useLibrary } from '@/job/useLibrary'

type Own = Of<'build-up'>
interface Layer { material: string; thickness_mm: number }
const job = useJob()
const library = useLibrary()
const code = ref('concrete-150')
const layers = ref<Layer[]>([])
const computedLoss = shallowRef<LayersAnswer | null>(null)
const { said, guarded } = useGuarded()
const own = computed(() => new Map(job.of('build-up').map((b) => [b.code, b])))
const rows = computed(() => {
  const shelf = Object.entries(library.shelves?.build_ups ?? {}).map(([id, b]) => ({ id, label: b.label, kind: b.kind, losses: [b.loss_24_db, b.loss_5_db, b.loss_6_db], layers: b.layers as [string, number][], own: own.value.has(id) }))
  const mine = job.of('build-up').filter((b) => !shelf.some((s) => s.id === b.code)).map((b) => ({ id: b.code, label: b.label, kind: b.build_kind, losses: [b.loss_24_db, b.loss_5_db, b.loss_6_db], layers: b.layers.map((l) => [l.material, l.thickness_mm] as [string, number]), own: true }))
  return [...shelf, ...mine]
})
const row = computed(() => rows.value.find((r) => r.id === code.value))
const mine = computed(() => own.value.get(code.value))
const values = computed(() => (mine.value && !mine.value.layers.length ? [mine.value.loss_24_db, mine.value.loss_5_db, mine.value.loss_6_db] : (row.value?.losses ?? [])))
const materials = computed(() => Object.keys(library.shelves?.slab_materials ?? {}))

async function compute(): Promise<void> {
  computedLoss.value = null
  if (!layers.value.length) return
  const body = { layers: layers.value }
  computedLoss.value = ((await guarded(() => take(api.POST('/api/build-ups/loss', { body })))) as LayersAnswer | undefined) ?? null
}
function byFrequency(): ChartConfiguration {
  const design = ([2.437, 5.5, 6.185] as const).map((x, i) => ({ x, y: values.value[i] ?? 0 }))
  const curve = (computedLoss.value?.curve ?? []).map(([x, y]) => ({ x, y }))
  return {
    type: 'scatter',
    data: {
      datasets: [
        { label: 'layers', data: curve, showLine: true, pointRadius: 0, borderColor: ink('--tarn'), borderWidth: 2 },
        { label: 'design value', data: design, pointRadius: 5, pointStyle: 'rectRot', backgroundColor: ink('--heather'), borderColor: ink('--heather') },
      ],
    },
    options: {
      plugins: { legend: { labels: { color: ink('--ink'), usePointStyle: true } } },
      scales: {
        x: { type: 'linear', min: 1, max: 7.5, title: { display: true, text: 'GHz', color: ink('--ink-quiet') }, grid: { color: ink('--rule') }, ticks: { color: ink('--ink-quiet') } },
        y: { beginAtZero: true, title: { display: true, text: 'dB', color: ink('--ink-quiet') }, grid: { color: ink('--rule') }, ticks: { color: ink('--ink-quiet') } },
      },
    },
  }
}
watch([row, mine], ([now]) => {
  const from = mine.value?.layers.length ? mine.value.layers.map((l) => [l.material, l.thickness_mm] as const) : (now?.layers ?? [])
  layers.value = from.map(([material, thickness_mm]) => ({ material, thickness_mm }))
  void compute()
}, { immediate: true })

function body(changes: Partial<Own>): Own {
  const [a = 0, b = 0, c = 0] = values.value
  return {
    kind: 'build-up', order: mine.value?.order ?? 0, id: mine.value?.id ?? uuid(), label: row.value?.label ?? 'Own build-up', code: code.value, build_kind: row.value?.kind ?? 'wall',
    loss_24_db: a, loss_5_db: b, loss_6_db: c, layers: [], drill_hours: library.shelves?.build_ups[code.value]?.drill_hours ?? 0.3, reason: 'this job', ...changes,
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
  job.edit('Add a build-up', [put({ ...body({}), id: uuid(), code: fresh, label: `Own build-up ${job.of('build-up').length + 1}`, build_kind: 'wall' })])
}
</script>

<template>
  <div class="build-ups">
    <div class="list">
      <table aria-label="Build-ups">
        <thead><tr><th scope="col">Build-up</th><th scope="col" class="right">2.4</th><th scope="col" class="right">5</th><th scope="col" class="right">6 GHz</th></tr></thead>
        <tbody>
          <tr v-for="r in rows" :key="r.id" :class="{ on: r.id === code }" @click="code = r.id">
            <th scope="row"><button type="button" class="bare" @click.stop="code = r.id">{{ r.label }}</button> <span v-if="r.own" class="advice">this job</span></th>
            <td v-for="(loss, i) in r.losses" :key="i" class="mono right">{{ loss }}</td>
          </tr>
        </tbody>
      </table>
    </div>
    <div class="one">
      <header>
<h3>{{ row?.label }}</h3><span class="quiet">{{ mine ? 'own figures of this job' : 'as in the library' }}</span>
        <button v-if="mine" type="button" class="ink-button" @click="back">As in the library</button>
        <button type="button" class="ink-button" @click="addOwn">Add a build-up</button>
      </header>
      <div class="values">
<span class="quiet">Design value</span>
        <label v-for="(name, i) in ['2.4 GHz', '5 GHz', '6 GHz']" :key="name">{{ name }} <input class="field n" :value="values[i]" inputmode="decimal" :aria-label="`Loss at ${name}`" @change="setValue(i, $event)" /> dB</label>
      </div>
      <p v-if="said" class="fault" role="alert">▲ {{ said }}</p>
      <div class="parts">
        <div class="layers">
          <div v-for="(layer, i) in layers" :key="i" class="layer">
            <select v-model="layer.material" class="field" :aria-label="`Material of layer ${i + 1}`" @change="compute"><option v-for="m in materials" :key="m">{{ m }}</option></select>
            <input v-model.number="layer.thickness_mm" class="field n" inputmode="decimal" :aria-label="`Thickness of layer ${i + 1}`" @change="compute" /> mm
            <button type="button" class="bare quiet" :aria-label="`Remove layer ${i + 1}`" @click="layers.splice(i, 1); compute()">✕</button>
          </div>
          <p v-if="!layers.length" class="quiet">No layers: studwork, brick and stone go by their measured class. Add layers for a plain slab.</p>
          <button type="button" class="ink-button" @click="layers.push({ material: 'concrete', thickness_mm: 100 }); compute()">Add a layer</button>
          <template v-if="computedLoss">
            <p>Layers cost <span class="mono">{{ computedLoss.losses_db.join(' / ') }} dB</span> <span class="quiet">{{ computedLoss.source }}</span></p>
            <button type="button" class="ink-button primary" @click="useLayers">Use the layers in this job</button>
          </template>
        </div>
        <div class="plot"><InkChart :config="byFrequency" :label="`Loss of ${row?.label ?? ''} by frequency`" /></div>
      </div>
    </div>
  </div>
</template>

<style scoped>
.build-ups { display: grid; grid-template-columns: minmax(250px, 320px) minmax(0, 1fr); height: 100%; }
.list { overflow: auto; border-right: 1px solid var(--rule); }
.list table { border-collapse: collapse; width: 100%; font-size: 0.88rem; }
th { text-align: left; font-weight: 400; padding: 1px 6px 1px 12px; }
thead th { color: var(--ink-quiet); position: sticky; top: 0; background: var(--paper-raised); }
td { padding: 1px 6px; }
.list th .bare { min-height: 24px; }
.right { text-align: right; }
tr { cursor: pointer; }
tr.on { background: var(--heather-tint); }
.one { padding: 6px 14px; overflow: auto; display: grid; gap: 6px; align-content: start; }
header { display: flex; gap: 10px; align-items: baseline; }
header .ink-button { font-size: 0.88rem; }
header h3 { flex: 1; }
.values { display: flex; gap: 14px; font-size: 0.9rem; align-items: center; flex-wrap: wrap; }
.n { width: 3.8rem; }
.parts { display: grid; grid-template-columns: minmax(220px, 1fr) minmax(240px, 1.4fr); gap: 14px; }
.layers { display: grid; gap: 5px; align-content: start; justify-items: start; font-size: 0.9rem; }
.layer { display: flex; gap: 6px; align-items: center; }
.plot { height: 190px; position: relative; }
p { margin: 0; font-size: 0.9rem; }
</style>
