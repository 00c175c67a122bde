<script setup lang="ts">
/** A rack in units and at scale: things are dragged from unit to unit, or moved by keys; what its place must give. */
import { computed, ref } from 'vue'
import { api, take } from '@/api/client'
import { useAsked } from '@/job/useAsked'
import { useJob } from '@/job/useJob'
import { useMake } from '@/job/make'
import { useLibrary } from '@/job/useLibrary'
import { put } from '@/job/types'
import { useSelection } from '@/job/useSelection'
import RackDrawn from '@/ports/RackDrawn.vue'
import RackPlace from '@/ports/RackPlace.vue'
import SaveAs from '@/stages/actions/SaveAs.vue'
import { useSuggestion } from '@/stages/actions/useSuggestion'

const job = useJob()
const make = useMake()
const library = useLibrary()
const selection = useSelection()
const params = { path: { job_id: job.id } }
const { found, said, busy } = useAsked(() => take(api.GET('/api/jobs/{job_id}/ports/racks', { params })))
const { busy: arranging, suggest } = useSuggestion()
const chosen = ref('')
const racks = computed(() => found.value?.racks ?? [])
const now = computed(() => {
  const at = selection.element
  const picked = at?.kind === 'rack' ? at.id : chosen.value
  return racks.value.find((one) => one.elevation.rack_id === picked) ?? racks.value[0]
})
const open = computed(() => now.value?.elevation.items.filter((one) => one.state === 'proposed').length ?? 0)
const files = { 'paper=A4': 'PDF A4', 'paper=A3': 'PDF A3' }
const save = (query: string) => `/api/jobs/${job.id}/export/racks.pdf?${query}`
/** What is bolted into a rack, by name. */
const models = computed(() =>
  Object.entries(library.shelves?.equipment ?? {})
    .filter(([, model]) => model.can.includes('racks'))
    .toSorted(([, a], [, b]) => a.label.localeCompare(b.label)),
)
function arrange(anew: boolean): Promise<void> {
  const rack = now.value?.elevation.rack_id ?? ''
  const ask = () => take(api.POST('/api/jobs/{job_id}/ports/racks', { params, body: { rack, anew } }))
  return suggest(ask, anew ? 'Arrange the rack anew' : 'Decide the units', 'Everything stands where it goes best.')
}
function move(id: string, unit: number): void {
  const thing = job.elements.get(id)
  if (thing?.kind !== 'equipment' || thing.place.where !== 'rack' || thing.place.unit === unit) return
  job.edit(`${thing.label} to unit ${unit}`, [put({ ...thing, place: { ...thing.place, unit } })])
}
function add(event: Event): void {
  const select = event.target as HTMLSelectElement
  const model = select.value
  const rack_id = now.value?.elevation.rack_id
  select.value = ''
  const kind = library.shelves?.equipment[model]
  if (!rack_id || !kind) return
  const stem = kind.can.includes('joins')
    ? 'SW'
    : kind.can.includes('lands_cables')
      ? 'PP'
      : kind.can.includes('keeps_running')
        ? 'UPS'
        : (kind.label.split(' ')[0] ?? 'Unit')
  const added = make('equipment', { model, place: { where: 'rack', rack_id, unit: null, face: 'front' } }, stem)
  job.edit(`Add ${added.label}`, [put(added)])
  selection.select(added.id)
}
</script>

<template>
  <section class="panel" aria-label="Racks" :aria-busy="busy">
    <p v-if="said" class="fault lead" role="alert">▲ {{ said }}</p>
    <p v-if="found && !racks.length" class="quiet lead">
      Mark a rack on the sheet: what stands in it is drawn here, unit by unit.
    </p>
    <template v-else-if="now">
      <p class="head">
        <label v-if="racks.length > 1">
          Rack
          <select v-model="chosen" class="field">
            <option v-for="one in racks" :key="one.elevation.rack_id" :value="one.elevation.rack_id">
              {{ one.elevation.label }}
            </option>
          </select>
        </label>
        <span
          ><button type="button" class="bare" @click="selection.select(now.elevation.rack_id)">
            <b>{{ now.elevation.label }}</b>
          </button>
          <span class="quiet"> {{ now.elevation.model_label }}</span></span
        >
        <button v-if="open" type="button" class="ink-button" :disabled="arranging" @click="arrange(false)">
          Decide {{ open }} {{ open === 1 ? 'unit' : 'units' }}
        </button>
        <button type="button" class="ink-button" :disabled="arranging" @click="arrange(true)">Arrange anew</button>
        <select class="field" aria-label="Add to the rack" @change="add">
          <option value="">Add…</option>
          <option v-for="[code, model] in models" :key="code" :value="code">{{ model.label }}</option>
        </select>
        <SaveAs label="Save the racks as" first="Save as…" :files="files" :href="save" />
        <span class="quiet">Drag a thing to its unit, or <kbd>↑</kbd> <kbd>↓</kbd> on it.</span>
      </p>
      <div class="both">
        <RackDrawn :elevation="now.elevation" @move="move" />
        <RackPlace :plan="now" />
      </div>
    </template>
  </section>
</template>

<style scoped>
.panel {
  height: 100%;
  display: flex;
  flex-direction: column;
}
.head {
  flex-wrap: wrap;
  row-gap: 2px;
}
.both {
  flex: 1;
  min-height: 0;
  display: grid;
  grid-template-columns: auto minmax(380px, 1fr);
  gap: 0 18px;
  margin: 0 12px;
}
</style>
