<script setup lang="ts">
/** Models in use and their figures: the library's, or this job's own where a person knows better. */
import { vDraft } from '@/ink/draft'
import { computed } from 'vue'
import { useMake } from '@/job/make'
import { modelOf, put, remove, type Of } from '@/job/types'
import { useJob } from '@/job/useJob'
import { useLibrary } from '@/job/useLibrary'

type Model = Of<'model'>['model']
const FIGURES = [
  ['price', 'Price', null],
  ['max_w', 'Most', 'W'],
  ['typical_w', 'Usual', 'W'],
  ['budget_w', 'PoE budget', 'W'],
  ['height_u', 'Height', 'U'],
] as const
type Figure = (typeof FIGURES)[number][0]
const job = useJob()
const library = useLibrary()
const make = useMake()
const own = computed(() => new Map(job.of('model').map((model) => [model.code, model])))
const used = computed(() => [...new Set(job.all.map(modelOf).filter((code) => code !== null))].toSorted())
const rows = computed(() =>
  used.value.flatMap((code) => {
    const shown = library.model(code)
    const model = own.value.get(code)?.model ?? (shown && bare(shown))
    return model ? [{ code, model }] : []
  }),
)

/** A library model as a job keeps one: without what is worked out of it. */
function bare(shown: NonNullable<ReturnType<typeof library.model>>): Model {
  const model: Partial<typeof shown> = { ...shown }
  delete model.can
  return model as Model
}
function set(code: string, model: Model, figure: Figure, event: Event): void {
  const input = event.target as HTMLInputElement
  const text = input.value.trim().replace(',', '.')
  const value = text === '' && figure === 'price' ? null : Number(text)
  if (value !== null && (text === '' || Number.isNaN(value) || value < 0)) {
    input.value = String(model[figure] ?? '')
    return
  }
  const next = { ...model, [figure]: value }
  const mine = own.value.get(code) ?? make('model', { code, model: next, label: model.label })
  job.edit(`Own figures of ${model.label}`, [put({ ...mine, model: next })])
}
function giveBack(code: string): void {
  const mine = own.value.get(code)
  if (mine) job.edit(`Library's figures of ${mine.label}`, [remove(mine.id)])
}
</script>

<template>
  <section class="models" aria-label="Models in use">
    <p class="quiet">
      Figures of the models this job uses. A figure changed here holds for this job alone; power, budgets and kit
      follow.
    </p>
    <table class="plain-table">
      <thead>
        <tr>
          <th>Model</th>
          <th v-for="[key, name, unit] in FIGURES" :key="key">{{ unit ? `${name}, ${unit}` : name }}</th>
          <th><span class="visually-hidden">What to do</span></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="{ code, model } in rows" :key="code" :data-code="code">
          <th scope="row">{{ model.label }} <span v-if="own.has(code)" class="quiet">own figures</span></th>
          <td v-for="[key, name] in FIGURES" :key="key">
            <input
              v-draft="model[key] ?? ''"
              class="field n mono"
              inputmode="decimal"
              :placeholder="key === 'price' ? 'unknown' : ''"
              :aria-label="`${name} of ${model.label}`"
              @change="set(code, model, key, $event)"
            />
          </td>
          <td class="acts">
            <button v-if="own.has(code)" type="button" class="ink-button" @click="giveBack(code)">
              Back to the library's
            </button>
          </td>
        </tr>
      </tbody>
    </table>
    <p v-if="!rows.length" class="quiet">
      Nothing with a model stands in this job yet. Place a point, or add a switch.
    </p>
  </section>
</template>

<style scoped>
.models {
  padding: 8px 12px;
}
p {
  margin: 0 0 6px;
  font-size: 0.9rem;
}
.n {
  width: 5.4rem;
  text-align: right;
}
</style>
