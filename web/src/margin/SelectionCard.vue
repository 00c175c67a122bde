<script setup lang="ts">
/** What is selected: what was computed of it on top, its fields below. */
import { computed } from 'vue'
import Glyph from '@/ink/Glyph.vue'
import { put, remove, type Element } from '@/job/types'
import { useAssessment } from '@/job/useAssessment'
import { useJob } from '@/job/useJob'
import { useLibrary } from '@/job/useLibrary'
import { useSelection } from '@/job/useSelection'
import BoreSection from '@/margin/BoreSection.vue'
import FieldRow from '@/margin/FieldRow.vue'
import { choicesOf, fieldsOf, valueAt, withValue } from '@/margin/fields'
import PinRows from '@/margin/PinRows.vue'
import RadioRows from '@/margin/RadioRows.vue'
import SelectionFacts from '@/margin/SelectionFacts.vue'

const props = defineProps<{ element: Element }>()
const job = useJob()
const selection = useSelection()
const library = useLibrary()
const assessment = useAssessment()
const about = computed(() => library.about(props.element.kind))
const fields = computed(() => fieldsOf(about.value.fields, props.element))
const model = computed(() =>
  library.model('model' in props.element && typeof props.element.model === 'string' ? props.element.model : null),
)
const sign = computed(() => model.value?.sign ?? about.value.sign)
/** What it is in words: what its first choice from the library says, else its kind. */
const what = computed(() => {
  const field = about.value.fields.find((f) => f.shelf)
  const now = field ? valueAt(props.element, field.path) : undefined
  const label =
    field && library.shelves
      ? choicesOf(field, library.shelves, props.element).find(([id]) => id === now)?.[1]
      : undefined
  return label ?? about.value.noun
})
/** A pathway with a bore, as it is filled. */
const bore = computed(() => assessment.found?.pathways.find((plan) => plan.pathway_id === props.element.id))
function change(path: string, value: unknown): void {
  job.edit(`Change ${props.element.label}`, [put(withValue(props.element, path, value))])
}
function takeAway(): void {
  selection.select(null)
  job.edit(`Remove ${props.element.label}`, [remove(props.element.id)])
}
</script>

<template>
  <section class="card" :aria-label="`Selected: ${element.label}`">
    <header>
      <Glyph :name="sign" :size="18" />
      <h2>{{ element.label }}</h2>
      <button
        type="button"
        class="bare quiet"
        title="Put the selection away (Esc)"
        aria-label="Put the selection away"
        @click="selection.select(null)"
      >
        ✕
      </button>
    </header>
    <p class="quiet what">{{ what }}</p>
    <SelectionFacts :element="element" />
    <BoreSection v-if="bore" :plan="bore" />
    <PinRows v-if="element.kind === 'link'" :run="element" />
    <RadioRows v-if="element.kind === 'access-point'" :point="element" />
    <details open>
      <summary>Settings</summary>
      <div class="fields">
        <FieldRow
          v-for="field in fields"
          :key="field.path"
          :field="field"
          :value="valueAt(element, field.path)"
          :element="element"
          @change="change(field.path, $event)"
        />
      </div>
      <button v-if="!about.single" type="button" class="ink-button remove" @click="takeAway">Remove</button>
    </details>
  </section>
</template>

<style scoped>
.card {
  padding: 12px 14px;
  border-bottom: 1px solid var(--ink);
  display: grid;
  gap: 7px;
}
header {
  display: flex;
  gap: 8px;
  align-items: center;
}
h2 {
  flex: 1;
  overflow-wrap: anywhere;
}
.what {
  margin: -6px 0 0;
  font-size: 0.9rem;
}
.fields {
  display: grid;
  gap: 4px;
  padding-top: 6px;
}
summary {
  cursor: pointer;
  font-size: 0.9rem;
  color: var(--ink-quiet);
}
.remove {
  margin-top: 8px;
  font-size: 0.88rem;
}
</style>
