<script setup lang="ts">
/** Air: the layer on the sheet as a print. */
import SaveAs from '@/stages/actions/SaveAs.vue'
import { useJob } from '@/job/useJob'
import { useAirView } from '@/air/useAirView'
import { useView } from '@/job/useView'

const job = useJob()
const view = useView()
const airView = useAirView()
const FILES = { pdf: 'PDF A3', png: 'PNG', svg: 'SVG' }
const print = (ending: string) =>
  `/api/jobs/${job.id}/air/print.${ending}?${new URLSearchParams({ storey_id: view.storey?.id ?? '', band: airView.band, signal: airView.signal, way: airView.way })}`
</script>

<template>
  <SaveAs v-if="view.storey" label="Print the sheet as" first="Print…" :files="FILES" :href="print" />
</template>
