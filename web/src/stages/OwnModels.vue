<script setup lang="ts">
/** Models in use and their figures: the library's, this job's own where a person knows better, and new ones. */
import { ref } from 'vue'
import { vDraft } from '@/ink/draft'
import ModelParts from '@/stages/ModelParts.vue'
import { useOwnModels, type Shown } from '@/stages/useOwnModels'

const FIGURES = [
  ['price', 'Price', null],
  ['max_w', 'Most', 'W'],
  ['typical_w', 'Usual', 'W'],
  ['budget_w', 'PoE budget', 'W'],
  ['height_u', 'Height', 'U'],
] as const
type Figure = (typeof FIGURES)[number][0]
const { rows, bases, set, add, giveBack } = useOwnModels()
const from = ref('')
/** The model whose ports and radios are open. */
const open = ref('')

function enter(row: Shown, figure: Figure, event: Event): void {
  const input = event.target as HTMLInputElement
  const text = input.value.trim().replace(',', '.')
  const value = text === '' && figure === 'price' ? null : Number(text)
  if (value !== null && (text === '' || Number.isNaN(value) || value < 0)) input.value = String(row.model[figure] ?? '')
  else set(row, figure, value)
}
function rename(row: Shown, event: Event): void {
  const input = event.target as HTMLInputElement
  if (input.value.trim()) set(row, 'label', input.value.trim())
  else input.value = row.model.label
}
function start(): void {
  add(from.value)
  from.value = ''
}
</script>

<template>
  <section class="models" aria-label="Models in use">
    <header>
      <p class="quiet">
        Figures of the models this job uses. A figure changed here holds for this job alone; power, budgets and kit
        follow.
      </p>
      <label>
        <span class="quiet">A new model like</span>
        <select v-model="from" class="field" @change="start">
          <option value="">choose</option>
          <option v-for="[code, base] in bases" :key="code" :value="code">{{ base.label }}</option>
        </select>
      </label>
    </header>
    <table class="plain-table">
      <thead>
        <tr>
          <th>Model</th>
          <th v-for="[key, name, unit] in FIGURES" :key="key" class="right">{{ unit ? `${name}, ${unit}` : name }}</th>
          <th><span class="visually-hidden">What to do</span></th>
        </tr>
      </thead>
      <tbody v-for="row in rows" :key="row.code">
        <tr :data-code="row.code">
          <th scope="row">
            <input
              v-if="row.fresh"
              v-draft="row.model.label"
              class="field name"
              :aria-label="`Name of ${row.model.label}`"
              @change="rename(row, $event)"
            />
            <template v-else>{{ row.model.label }}</template>
            <span v-if="row.own" class="quiet">{{ row.fresh ? ' this job' : ' own figures' }}</span>
          </th>
          <td v-for="[key, name] in FIGURES" :key="key">
            <input
              v-draft="row.model[key] ?? ''"
              class="field n mono"
              inputmode="decimal"
              :placeholder="key === 'price' ? 'unknown' : ''"
              :aria-label="`${name} of ${row.model.label}`"
              @change="enter(row, key, $event)"
            />
          </td>
          <td class="acts">
            <button
              type="button"
              class="ink-button"
              :aria-label="`Parts of ${row.model.label}`"
              :aria-expanded="open === row.code"
              @click="open = open === row.code ? '' : row.code"
            >
              Parts
            </button>
            <button v-if="row.own" type="button" class="ink-button" @click="giveBack(row)">
              {{ row.fresh ? 'Remove' : 'As in the library' }}
            </button>
          </td>
        </tr>
        <tr v-if="open === row.code" class="parts">
          <td :colspan="FIGURES.length + 2"><ModelParts :row="row" @set="(path, value) => set(row, path, value)" /></td>
        </tr>
      </tbody>
    </table>
    <p v-if="!rows.length" class="quiet">
      Nothing with a model stands in this job yet. Place a point, add a switch, or start a model of your own above.
    </p>
  </section>
</template>

<style scoped>
.models {
  padding: 8px 12px;
}
header {
  display: flex;
  gap: 14px;
  align-items: baseline;
  justify-content: space-between;
  font-size: 0.9rem;
}
header label {
  display: flex;
  gap: 7px;
  align-items: baseline;
  white-space: nowrap;
}
header select {
  max-width: 17rem;
}
p {
  margin: 0 0 6px;
  font-size: 0.9rem;
}
.n {
  width: 4.3rem;
  text-align: right;
}
.name {
  width: 12rem;
}
.plain-table :is(th, td) {
  padding: 3px 7px;
}
tbody th {
  white-space: normal;
}
.right {
  text-align: right;
}
.acts .ink-button + .ink-button {
  margin-left: 5px;
}
</style>
