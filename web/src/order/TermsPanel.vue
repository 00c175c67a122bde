<script setup lang="ts">
/** The terms: firm, tax, crew, what makes it slower, own rates, lines by hand; what it comes to in all. */
import { computed } from 'vue'
import { api, take } from '@/api/client'
import { vDraft } from '@/ink/draft'
import { useAsked } from '@/job/useAsked'
import { useJob } from '@/job/useJob'
import { useLibrary } from '@/job/useLibrary'
import SumNumber from '@/ledger/SumNumber.vue'
import FieldRow from '@/margin/FieldRow.vue'
import { valueAt } from '@/margin/fields'
import { useOrdering, type Ordering } from '@/order/useOrdering'

const job = useJob()
const library = useLibrary()
const { ordering, change } = useOrdering()
const params = { path: { job_id: job.id } }
const { found, said } = useAsked(() => take(api.GET('/api/jobs/{job_id}/order/terms', { params })))
const fields = computed(() => library.about('ordering').fields)
function set(path: string, value: unknown): void {
  change('Change the terms', { [path]: value } as Partial<Ordering>)
}
function toggle(code: string): void {
  const now = ordering.value.hardships
  change('Change what makes it slower', {
    hardships: now.includes(code) ? now.filter((one) => one !== code) : [...now, code],
  })
}
function number(event: Event): number | null {
  const text = (event.target as HTMLInputElement).value.trim().replace(',', '.')
  return text === '' || Number.isNaN(Number(text)) ? null : Number(text)
}
function rate(task: string, event: Event): void {
  const hours = number(event)
  const others = ordering.value.rates.filter((one) => one.task !== task)
  change('Change a rate', { rates: hours === null || hours < 0 ? others : [...others, { task, hours }] })
}
type Extra = Ordering['extras'][number]
function setExtra(at: number, changes: Partial<Extra>): void {
  change('Change a line by hand', {
    extras: ordering.value.extras.map((one, n) => (n === at ? { ...one, ...changes } : one)),
  })
}
function addExtra(): void {
  const names = new Set(ordering.value.extras.map((one) => one.what))
  const what = ['A day of a lift', 'Parking', 'A skip', 'Line by hand'].find((one) => !names.has(one))
  change('Add a line by hand', {
    extras: [
      ...ordering.value.extras,
      { what: what ?? `Line by hand ${names.size + 1}`, count: 1, price: null, note: '' },
    ],
  })
}
</script>

<template>
  <section class="panel" aria-label="Terms">
    <p v-if="said" class="fault lead" role="alert">▲ {{ said }}</p>
    <div v-if="found" class="parts">
      <section aria-label="Terms of the order">
        <h3>Terms</h3>
        <FieldRow
          v-for="field in fields"
          :key="field.path"
          :field="field"
          :value="valueAt(ordering, field.path)"
          @change="set(field.path, $event)"
        />
        <p class="totals">In all, tax included <SumNumber :sum="found.whole" :digits="2" /></p>
        <p class="totals">The crew is there for <SumNumber :sum="found.days" :digits="1" /></p>
      </section>
      <section aria-label="What makes it slower">
        <h3>What makes it slower</h3>
        <label v-for="one in found.hardships.filter((h) => !h.known)" :key="one.code" class="line"
          ><input type="checkbox" :checked="one.chosen" @change="toggle(one.code)" /> <span>{{ one.label }}</span>
          <span class="mono quiet">× {{ one.factor }}</span></label
        >
        <p class="quiet">Known from the drawing:</p>
        <p v-for="one in found.hardships.filter((h) => h.known)" :key="one.code" class="line quiet">
          <span>{{ one.label }}</span> <span class="mono">× {{ one.factor }}</span>
        </p>
        <h3>Lines by hand</h3>
        <p v-for="(extra, n) in ordering.extras" :key="n" class="extra">
          <input
            v-draft="extra.what"
            class="field"
            maxlength="80"
            :aria-label="`What, line ${n + 1}`"
            @change="setExtra(n, { what: ($event.target as HTMLInputElement).value.trim() || extra.what })"
          />
          <input
            v-draft="extra.count"
            class="field n"
            inputmode="decimal"
            :aria-label="`How many, line ${n + 1}`"
            @change="setExtra(n, { count: number($event) || extra.count })"
          />
          <input
            v-draft="extra.price ?? ''"
            class="field n"
            inputmode="decimal"
            placeholder="price"
            :aria-label="`Price of one, line ${n + 1}`"
            @change="setExtra(n, { price: number($event) })"
          />
          <button
            type="button"
            class="bare quiet"
            :aria-label="`Remove line ${n + 1}`"
            @click="change('Remove a line by hand', { extras: ordering.extras.filter((_, k) => k !== n) })"
          >
            ✕
          </button>
        </p>
        <button type="button" class="ink-button" @click="addExtra">Add a line by hand</button>
      </section>
      <section aria-label="Rates">
        <h3>Rates</h3>
        <table class="plain-table">
          <thead>
            <tr>
              <th>Task</th>
              <th>Per</th>
              <th class="number">Usual, h</th>
              <th class="number">Own, h</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="one in found.rates" :key="one.task">
              <th scope="row">{{ one.label }}</th>
              <td class="quiet">{{ one.per }}</td>
              <td class="mono number">{{ one.library_h }}</td>
              <td class="number">
                <input
                  v-draft="one.own_h ?? ''"
                  class="field n"
                  inputmode="decimal"
                  placeholder="as it is"
                  :aria-label="`Own rate: ${one.label}`"
                  @change="rate(one.task, $event)"
                />
              </td>
            </tr>
          </tbody>
        </table>
      </section>
    </div>
  </section>
</template>

<style scoped>
.panel {
  overflow: auto;
}
.parts {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 26px;
  padding: 2px 12px 12px;
}
.parts > section {
  flex: 1 1 300px;
}
h3 {
  margin: 6px 0 4px;
  font-size: 0.95rem;
}
.line {
  display: flex;
  gap: 8px;
  align-items: baseline;
  margin: 3px 0;
  font-size: 0.9rem;
}
.line span:first-of-type {
  flex: 1;
}
.totals {
  margin: 8px 0 0;
}
.extra {
  display: flex;
  gap: 6px;
  margin: 3px 0;
}
.field.n {
  width: 5.2rem;
}
.extra .field.n {
  width: 4rem;
}
.number,
.number .field {
  text-align: right;
}
.parts .plain-table th[scope='row'] {
  white-space: normal;
}
.parts .plain-table .field.n {
  width: 4.4rem;
}
.bare.quiet {
  min-width: 24px;
  min-height: 24px;
}
</style>
