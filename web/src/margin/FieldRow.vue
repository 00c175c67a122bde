<script setup lang="ts">
/** One field, edited in place. What cannot be a value stays in the box, marked, and is not sent. */
import { computed, ref, watch } from 'vue'
import { useJob } from '@/job/useJob'
import { useLibrary } from '@/job/useLibrary'
import { convert, digitsOf, toSi } from '@/units/units'
import { usePreferences } from '@/units/preferences'
import type { Element } from '@/job/types'
import { choicesOf, type Field } from '@/margin/fields'

const props = defineProps<{ field: Field; value: unknown; element?: Element }>()
const emit = defineEmits<{ change: [value: unknown] }>()
const job = useJob()
const library = useLibrary()
const preferences = usePreferences()
const wrong = ref('')
const draft = ref('')
/** What somebody else made of the value while it is typed here; what is typed stays. */
const meanwhile = ref('')
const focused = ref(false)

const shown = computed(() => {
  if (typeof props.value !== 'number')
    return props.value === null || props.value === undefined ? '' : String(props.value)
  const { value } = convert(props.value, props.field.unit ?? '', preferences.units)
  return value.toFixed(digitsOf(value))
})
const unit = computed(() => convert(0, props.field.unit ?? '', preferences.units).unit)
const others = computed(() => (props.field.refers ? job.all.filter((one) => one.kind === props.field.refers) : []))
const options = computed(() =>
  library.shelves ? choicesOf(props.field, library.shelves, props.element, others.value) : [],
)
watch(
  [shown, () => props.field.path],
  ([now, path], [before, pathBefore]) => {
    const typing = focused.value && path === pathBefore && draft.value !== before && draft.value !== now
    if (typing) meanwhile.value = now || 'nothing'
    else revert()
  },
  { immediate: true },
)

function commit(): void {
  if (draft.value === shown.value) return
  const text = draft.value.trim()
  wrong.value = ''
  meanwhile.value = ''
  if (!text && props.field.empty) return emit('change', null)
  if (props.field.type !== 'number') {
    if (!text && props.field.path === 'label') wrong.value = 'A name is needed.'
    else emit('change', text)
    return
  }
  const value = Number(text.replace(',', '.'))
  if (!text || Number.isNaN(value)) wrong.value = `“${draft.value}” is no number.`
  else emit('change', Number(toSi(value, props.field.unit ?? '', preferences.units).toFixed(4)))
}
function choose(event: Event): void {
  const value = (event.target as HTMLSelectElement).value
  emit('change', value === '' ? null : typeof props.value === 'number' ? Number(value) : value)
}
function revert(): void {
  draft.value = shown.value
  wrong.value = ''
  meanwhile.value = ''
}
</script>

<template>
  <label class="row">
    <span class="quiet">{{ field.label }}</span>
    <select v-if="field.type === 'choice'" class="field" :value="value ?? ''" @change="choose">
      <option v-if="field.empty" value="">none</option>
      <option v-for="[id, label] in options" :key="id" :value="id">{{ label }}</option>
    </select>
    <input
      v-else-if="field.type === 'yes'"
      type="checkbox"
      :checked="value === true"
      @change="emit('change', ($event.target as HTMLInputElement).checked)"
    />
    <input
      v-else-if="field.type === 'date'"
      type="date"
      class="field"
      :value="value ?? ''"
      @change="emit('change', ($event.target as HTMLInputElement).value || null)"
    />
    <span v-else class="entry">
      <input
        v-model="draft"
        class="field"
        :class="{ number: field.type === 'number' }"
        :aria-invalid="wrong ? 'true' : undefined"
        @focus="focused = true"
        @blur="focused = false"
        @change="commit"
        @keydown.enter="commit"
        @keydown.esc.stop="revert"
      />
      <span v-if="unit" class="mono quiet unit">{{ unit }}</span>
    </span>
    <span v-if="wrong" class="wrong" role="alert">▲ {{ wrong }}</span>
    <span v-else-if="meanwhile" class="wrong" role="status">changed meanwhile to {{ meanwhile }}; Esc takes that</span>
  </label>
</template>

<style scoped>
.row {
  display: grid;
  grid-template-columns: 7.3rem minmax(0, 1fr);
  align-items: center;
  gap: 2px 8px;
  font-size: 0.9rem;
}
.entry {
  display: flex;
  gap: 5px;
  align-items: center;
  min-width: 0;
}
.field {
  width: 100%;
}
.field.number {
  max-width: 7rem;
}
input[type='checkbox'] {
  justify-self: start;
  accent-color: var(--heather);
  width: 15px;
  height: 15px;
  margin: 3px 0;
}
.unit {
  white-space: nowrap;
}
.wrong {
  grid-column: 2;
  color: var(--rust);
  font-size: 0.85rem;
}
</style>
