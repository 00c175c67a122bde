<script setup lang="ts">
/** Which columns of a table are shown: kept in this browser, per table. */
import Popover from 'primevue/popover'
import { useTemplateRef } from 'vue'
import Glyph from '@/ink/Glyph.vue'
import type { Column } from '@/stages/tables'

const props = defineProps<{ columns: readonly Column[]; table: string }>()
/** Keys of the columns that are put away. The first names the row and stays. */
const away = defineModel<string[]>('away', { required: true })
const card = useTemplateRef('card')
function show(key: string, event: Event): void {
  const shown = (event.target as HTMLInputElement).checked
  away.value = shown ? away.value.filter((one) => one !== key) : [...away.value, key]
}
</script>

<template>
  <button
    type="button"
    class="bare"
    aria-haspopup="dialog"
    :aria-label="`Columns of ${props.table}`"
    title="Columns"
    @click.stop="card?.toggle($event)"
  >
    <Glyph name="columns" />
  </button>
  <Popover ref="card" :aria-label="`Columns of ${props.table}`">
    <fieldset>
      <legend class="quiet">Columns shown</legend>
      <label v-for="(column, n) in props.columns" :key="column.key">
        <input
          type="checkbox"
          :checked="!away.includes(column.key)"
          :disabled="n === 0"
          @change="show(column.key, $event)"
        />
        {{ column.name }}
      </label>
      <button v-if="away.length" type="button" class="ink-button" @click="away = []">Show all</button>
    </fieldset>
  </Popover>
</template>

<style scoped>
fieldset {
  margin: 0;
  padding: 6px 12px 8px;
  display: grid;
  grid-template-columns: auto auto;
  gap: 2px 16px;
  font-size: 0.9rem;
  border: 0;
}
legend {
  padding: 0 4px;
}
label {
  display: flex;
  gap: 7px;
  align-items: center;
  min-height: 24px;
}
input {
  accent-color: var(--heather);
}
</style>
