<script setup lang="ts">
/** What is selected: what was computed of it on top, its fields below. */
import { computed } from 'vue'
import Glyph from '@/ink/Glyph.vue'
import { put, remove, type Element } from '@/job/types'
import { useJob } from '@/job/useJob'
import { useLibrary } from '@/job/useLibrary'
import { useView } from '@/job/useView'
import FieldRow from '@/margin/FieldRow.vue'
import { FIELDS, valueAt, withValue } from '@/margin/fields'
import RadioRows from '@/margin/RadioRows.vue'
import SelectionFacts from '@/margin/SelectionFacts.vue'

const props = defineProps<{ element: Element }>()
const job = useJob()
const view = useView()
const library = useLibrary()
const GLYPH: Partial<Record<Element['kind'], string>> = { 'access-point': 'point', 'service-entry': 'entry', opening: 'door', conduit: 'riser', underlay: 'space', storey: 'riser' }
const SINGLE = new Set<Element['kind']>(['site', 'brief', 'practice', 'air-model'])

const fields = computed(() => FIELDS[props.element.kind] ?? [])
const what = computed(() => {
  const e = props.element
  const s = library.shelves
  if (e.kind === 'access-point') return s?.access_points[e.model]?.label
  if (e.kind === 'run') return s?.cables[e.cable]?.label
  if (e.kind === 'switch') return s?.switches[e.model]?.label
  if (e.kind === 'wall') return s?.build_ups[e.build_up ?? '']?.label ?? 'no build-up'
  return e.kind.replace('-', ' ')
})
function change(path: string, value: unknown): void {
  job.edit(`Change ${props.element.label}`, [put(withValue(props.element, path, value))])
}
function takeAway(): void {
  view.select(null)
  job.edit(`Remove ${props.element.label}`, [remove(props.element.id)])
}
</script>

<template>
  <section class="card" :aria-label="`Selected: ${element.label}`">
    <header>
      <Glyph :name="GLYPH[element.kind] ?? element.kind" :size="18" />
      <h2>{{ element.label }}</h2>
      <button type="button" class="bare quiet" title="Put the selection away (Esc)" aria-label="Put the selection away" @click="view.select(null)">✕</button>
    </header>
    <p class="quiet what">{{ what }}</p>
    <SelectionFacts :element="element" />
    <RadioRows v-if="element.kind === 'access-point'" :point="element" />
    <details open>
      <summary>Settings</summary>
      <div class="fields">
        <FieldRow v-for="field in fields" :key="field.path" :field="field" :value="valueAt(element, field.path)" @change="change(field.path, $event)" />
      </div>
      <button v-if="!SINGLE.has(element.kind)" type="button" class="ink-button remove" @click="takeAway">Remove</button>
    </details>
  </section>
</template>

<style scoped>
.card { padding: 12px 14px; border-bottom: 1px solid var(--ink); display: grid; gap: 7px; }
header { display: flex; gap: 8px; align-items: center; }
h2 { flex: 1; overflow-wrap: anywhere; }
.what { margin: -6px 0 0; font-size: 0.9rem; }
.fields { display: grid; gap: 4px; padding-top: 6px; }
summary { cursor: pointer; font-size: 0.9rem; color: var(--ink-quiet); }
.remove { margin-top: 8px; font-size: 0.88rem; }
</style>
