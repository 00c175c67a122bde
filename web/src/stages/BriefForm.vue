<script setup lang="ts">
/** Stage 1: site, brief and house practice side by side, and the device counts. */
import { computed, onMounted } from 'vue'
import { put, type Of } from '@/job/types'
import { useJob } from '@/job/useJob'
import { useLibrary } from '@/job/useLibrary'
import FieldRow from '@/margin/FieldRow.vue'
import { FIELDS, valueAt, withValue } from '@/margin/fields'

type Count = Of<'brief'>['devices'][number]
const job = useJob()
const library = useLibrary()
const PURPOSES: readonly Count['purpose'][] = ['main', 'guest', 'things', 'cameras', 'voice']
const parts = computed(() => [...job.of('site'), ...job.of('brief'), ...job.of('practice')])
const brief = computed(() => job.of('brief')[0])

function change(element: (typeof parts.value)[number], path: string, value: unknown): void {
  job.edit(`Change ${element.label.toLowerCase()}`, [put(withValue(element, path, value))])
}
function counts(devices: Count[]): void {
  if (brief.value) job.edit('Change device counts', [put({ ...brief.value, devices })])
}
function set(index: number, changes: Partial<Count>): void {
  counts((brief.value?.devices ?? []).map((count, i) => (i === index ? { ...count, ...changes } : count)))
}
function whole(event: Event, fallback: number): number {
  const value = Number((event.target as HTMLInputElement).value)
  return Number.isInteger(value) && value >= 0 ? value : fallback
}
onMounted(() => void library.load())
</script>

<template>
  <div class="brief">
    <section v-for="part in parts" :key="part.id" :aria-label="part.label">
      <h3>{{ part.label }}</h3>
      <FieldRow v-for="field in FIELDS[part.kind] ?? []" :key="field.path" :field="field" :value="valueAt(part, field.path)" @change="change(part, field.path, $event)" />
    </section>
    <section aria-label="Devices" class="counts">
      <h3>Devices <span class="quiet">moving things get air, fixed things a cable</span></h3>
      <table v-if="brief?.devices.length">
        <thead><tr><th scope="col">What</th><th scope="col">Count</th><th scope="col">Moves</th><th scope="col">Network</th><th scope="col"><span class="visually-hidden">Remove</span></th></tr></thead>
        <tbody>
          <tr v-for="(count, i) in brief.devices" :key="i">
            <td><input class="field" :value="count.what" :aria-label="`What, row ${i + 1}`" maxlength="80" @change="set(i, { what: ($event.target as HTMLInputElement).value.trim() || count.what })" /></td>
            <td><input class="field number" :value="count.count" :aria-label="`Count, row ${i + 1}`" inputmode="numeric" @change="set(i, { count: whole($event, count.count) })" /></td>
            <td><input type="checkbox" :checked="count.moves" :aria-label="`Moves, row ${i + 1}`" @change="set(i, { moves: !count.moves })" /></td>
            <td><select class="field" :value="count.purpose" :aria-label="`Network, row ${i + 1}`" @change="set(i, { purpose: ($event.target as HTMLSelectElement).value as Count['purpose'] })"><option v-for="p in PURPOSES" :key="p">{{ p }}</option></select></td>
            <td><button type="button" class="bare quiet" :aria-label="`Remove row ${i + 1}`" @click="counts(brief.devices.filter((_, j) => j !== i))">✕</button></td>
          </tr>
        </tbody>
      </table>
      <p v-else class="quiet">No device counted yet. Counts size the networks.</p>
      <button type="button" class="ink-button" @click="counts([...(brief?.devices ?? []), { what: 'Laptops and phones', count: 10, moves: true, purpose: 'main' }])">Add a row</button>
    </section>
  </div>
</template>

<style scoped>
.brief { display: grid; grid-template-columns: repeat(auto-fit, minmax(235px, 1fr)); gap: 14px 26px; padding: 10px 14px 16px; }
section { display: grid; gap: 3px; align-content: start; }
h3 { border-bottom: 1px solid var(--rule); margin-bottom: 4px; padding-bottom: 2px; }
h3 .quiet { font-weight: 400; font-size: 0.85rem; }
.counts { grid-column: span 2; }
table { border-collapse: collapse; font-size: 0.9rem; margin-bottom: 6px; }
th { text-align: left; font-weight: 400; color: var(--ink-quiet); }
td { padding: 1px 8px 1px 0; }
td:first-child { width: 45%; }
td:first-child .field { width: 100%; }
.number { width: 4.5rem; }
.ink-button { justify-self: start; }
</style>
