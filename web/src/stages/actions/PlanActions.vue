<script setup lang="ts">
/** Plan: storeys, spaces found, gaps closed, the drawing saved as a file. */
import SaveAs from '@/stages/actions/SaveAs.vue'
import { useMake } from '@/job/make'
import { put } from '@/job/types'
import { useJob } from '@/job/useJob'
import { useShape } from '@/job/useShape'
import { useSelection } from '@/job/useSelection'
import { useView } from '@/job/useView'

const job = useJob()
const view = useView()
const selection = useSelection()
const make = useMake()
const shaping = useShape()
const SLAB_M = 0.25
const FILES = { dxf: 'DXF', svg: 'SVG', geojson: 'GeoJSON', png: 'PNG' }

function addStorey(): void {
  const top = view.storeys.at(-1)
  const storey = make('storey', { elevation_m: top ? top.elevation_m + top.ceiling_m + top.void_m + SLAB_M : 0 })
  job.edit('Add a storey', [put(storey)])
  selection.select(storey.id)
}
const save = (ending: string) => `/api/jobs/${job.id}/export/plan.${ending}?storey_id=${view.storey?.id ?? ''}`
</script>

<template>
  <button v-if="view.storey" type="button" class="ink-button" @click="selection.select(view.storey.id)">
    {{ view.storey.label }}…
  </button>
  <button type="button" class="ink-button" @click="addStorey">Add a storey</button>
  <template v-if="view.storey">
    <button
      type="button"
      class="ink-button"
      :disabled="shaping.busy.value"
      @click="shaping.run('Find spaces', { do: 'find-spaces', storey_id: view.storey.id })"
    >
      Find spaces
    </button>
    <button
      type="button"
      class="ink-button"
      :disabled="shaping.busy.value"
      @click="shaping.run('Close gaps', { do: 'close-gaps', storey_id: view.storey.id })"
    >
      Close gaps
    </button>
    <button
      type="button"
      class="ink-button"
      :disabled="shaping.busy.value"
      @click="shaping.run(`Copy ${view.storey.label}`, { do: 'copy-storey', storey_id: view.storey.id })"
    >
      Copy storey
    </button>
    <SaveAs label="Save the drawing as" first="Save as…" :files="FILES" :href="save" />
  </template>
</template>
