<script setup lang="ts">
/** What a stage can do with one press beside drawing. */
import { computed, ref } from 'vue'
import { api, Refusal, take, Unreachable } from '@/api/client'
import { make } from '@/job/make'
import { put } from '@/job/types'
import { useJob } from '@/job/useJob'
import { useShape } from '@/job/useShape'
import { useView } from '@/job/useView'
import { exportsOf } from '@/jobs/files'

const job = useJob()
const view = useView()
const busy = ref(false)
const shaping = useShape()
const files = computed(() => exportsOf(job.id))

const suggest = (what: 'runs' | 'network', label: string, none: string): Promise<void> => job.during(async () => {
  busy.value = true
  try {
    if (!(await job.saved())) throw new Unreachable('Earlier edits still wait to be saved. Try again in a moment.')
    const params = { path: { job_id: job.id } }
    const call = what === 'runs' ? api.GET('/api/jobs/{job_id}/runs/suggestion', { params }) : api.GET('/api/jobs/{job_id}/network/suggestion', { params })
    const { operations } = await take(call)
    if (operations.length) job.edit(label, operations)
    else job.refusal = none
  } catch (error) {
    if (!(error instanceof Refusal || error instanceof Unreachable)) throw error
    job.refusal = error.message
  } finally {
    busy.value = false
  }
})
function addStorey(): void {
  const top = view.storeys.at(-1)
  const storey = make.storey(job.all, top ? top.elevation_m + top.ceiling_m + top.void_m + 0.25 : 0)
  job.edit('Add a storey', [put(storey)])
  view.select(storey.id)
}
function save(event: Event): void {
  const select = event.target as HTMLSelectElement
  const ending = select.value
  select.value = ''
  if (ending && view.storey) location.href = `/api/jobs/${job.id}/export/plan.${ending}?storey_id=${view.storey.id}`
}
function print(event: Event): void {
  const select = event.target as HTMLSelectElement
  const ending = select.value
  select.value = ''
  if (ending && view.storey) location.href = `/api/jobs/${job.id}/air/print.${ending}?${new URLSearchParams({ storey_id: view.storey.id, band: view.band, signal: view.signal, way: view.way })}`
}
function addSwitch(): void {
  const rack = job.of('rack')[0]
  if (!rack) {
    job.refusal = 'Mark a rack on the sheet first; switches stand in one.'
    return
  }
  const added = make.switch(job.all, rack.id)
  job.edit(`Add ${added.label}`, [put(added)])
  view.select(added.id)
}
</script>

<template>
  <div class="actions">
    <template v-if="view.stage === 2">
      <button v-if="view.storey" type="button" class="ink-button" @click="view.select(view.storey.id)">{{ view.storey.label }}…</button>
      <button type="button" class="ink-button" @click="addStorey">Add a storey</button>
      <template v-if="view.storey">
        <button type="button" class="ink-button" :disabled="shaping.busy.value" @click="shaping.run('Find spaces', { do: 'find-spaces', storey_id: view.storey.id })">Find spaces</button>
        <button type="button" class="ink-button" :disabled="shaping.busy.value" @click="shaping.run('Close gaps', { do: 'close-gaps', storey_id: view.storey.id })">Close gaps</button>
        <button type="button" class="ink-button" :disabled="shaping.busy.value" @click="shaping.run(`Copy ${view.storey.label}`, { do: 'copy-storey', storey_id: view.storey.id })">Copy storey</button>
        <select class="field save" aria-label="Save the drawing as" @change="save">
          <option value="">Save as…</option><option value="dxf">DXF</option><option value="svg">SVG</option><option value="geojson">GeoJSON</option><option value="png">PNG</option>
        </select>
      </template>
    </template>
    <select v-if="view.stage === 3 && view.storey" class="field save" aria-label="Print the sheet as" @change="print">
      <option value="">Print…</option><option value="png">PNG</option><option value="svg">SVG</option>
    </select>
    <button v-if="view.stage === 5" type="button" class="ink-button" :disabled="busy" @click="suggest('runs', 'Run cables to everything', 'Everything has a run, or there is no rack yet.')">Run cables to everything</button>
    <button v-if="view.stage === 6" type="button" class="ink-button" @click="addSwitch">Add a switch</button>
    <button v-if="view.stage === 7" type="button" class="ink-button" :disabled="busy" @click="suggest('network', 'Propose networks', 'The usual networks are all there.')">Propose networks</button>
    <template v-if="view.stage === 8">
      <a v-for="file in files" :key="file.href" class="ink-button" :href="file.href">{{ file.label }}</a>
    </template>
  </div>
</template>

<style scoped>
.actions { display: flex; gap: 6px; flex: none; font-size: 0.9rem; }
</style>
