<script setup lang="ts">
/** A price list in, row by row, before anything is taken; and out, to be filled in. */
import { computed, ref } from 'vue'
import { api, inForm, take } from '@/api/client'
import type { PriceList } from '@/api/schema'
import { useGuarded } from '@/api/useGuarded'
import { useAssessment } from '@/job/useAssessment'
import { useJob } from '@/job/useJob'
import { useOrdering } from '@/order/useOrdering'
import { useUnits } from '@/units/useUnits'

const job = useJob()
const units = useUnits()
const assessment = useAssessment()
const { ordering, change } = useOrdering()
const { said, busy, guarded } = useGuarded()
const supplier = ref('')
const file = ref<File | null>(null)
const chosen = ref<Record<string, string>>({})
const read = ref<PriceList | null>(null)
const base = `/api/jobs/${job.id}/export`
// Lines that no supplier's list can be about.
const BY_HAND = new Set(['kept', 'extra', 'delivery'])
const WORDS = { new: 'new', dearer: 'dearer', cheaper: 'cheaper', same: 'as it was', none: '' } as const
const items = computed(() => {
  const seen = new Map((assessment.found?.kit ?? []).map((line) => [line.item, line.label]))
  return [...seen].filter(([item]) => !BY_HAND.has(item))
})
const from = computed(() => supplier.value || ordering.value.suppliers[0]?.name || 'Supplier 1')
async function look(): Promise<void> {
  const sent = file.value
  if (!sent) return
  const more = { supplier: from.value, chosen: chosen.value }
  const call = { params: { path: { job_id: job.id } }, body: inForm(sent, sent.name, more) }
  const answer = await guarded(async () => {
    await job.mustBeSaved()
    return take(api.POST('/api/jobs/{job_id}/order/prices', call))
  })
  if (answer) read.value = answer as PriceList
}
function pick(event: Event): void {
  const input = event.target as HTMLInputElement
  file.value = input.files?.[0] ?? null
  input.value = ''
  chosen.value = {}
  read.value = null
  void look()
}
function choose(number: string, event: Event): void {
  chosen.value = { ...chosen.value, [number]: (event.target as HTMLSelectElement).value }
  void look()
}
function takeIn(): void {
  const list = read.value
  if (!list) return
  const known = ordering.value.suppliers.map((one) => one.name)
  const named = [...new Set(list.offers.map((one) => one.supplier))].filter((name) => !known.includes(name))
  change(`Take ${list.taken} prices`, {
    offers: list.offers,
    suppliers: [...ordering.value.suppliers, ...named.map((name) => ({ name, delivery: 0, free_from: null, days: 2 }))],
  })
  leave()
}
function leave(): void {
  read.value = null
  file.value = null
}
</script>

<template>
  <section class="prices" aria-label="Price lists" :aria-busy="busy">
    <h3>Price lists</h3>
    <p class="do">
      <a class="ink-button" :href="`${base}/prices.xlsx`" download>To be filled in (XLSX)</a>
      <a class="ink-button" :href="`${base}/prices.csv`" download>(CSV)</a>
      <label
        >of
        <input v-model.trim="supplier" class="field" maxlength="80" list="suppliers" :placeholder="from" />
        <datalist id="suppliers">
          <option v-for="one in ordering.suppliers" :key="one.name" :value="one.name" /></datalist
      ></label>
      <label class="ink-button file"
        ><input type="file" accept=".csv,.tsv,.txt,.xlsx" aria-label="Price list" @change="pick" />Read a price list
        (CSV, XLSX)</label
      >
    </p>
    <p v-if="said" class="fault" role="alert">▲ {{ said }}</p>
    <template v-if="read">
      <p>
        <strong>{{ read.taken }}</strong> of {{ read.rows.length }} rows can be taken.
        <button type="button" class="ink-button primary" :disabled="!read.taken" @click="takeIn">
          Take {{ read.taken }} prices
        </button>
        <button type="button" class="ink-button" @click="leave">Leave it</button>
      </p>
      <table class="plain-table">
        <thead>
          <tr>
            <th class="number">Row</th>
            <th>Number</th>
            <th>What it says</th>
            <th>Stands for</th>
            <th class="number">Pack</th>
            <th class="number">Was</th>
            <th class="number">Price</th>
            <th>Becomes</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in read.rows" :key="row.row">
            <td class="mono number">{{ row.row }}</td>
            <th scope="row" class="mono">{{ row.number }}</th>
            <td class="words">{{ row.words }}</td>
            <td>
              <select
                v-if="row.how === 'unknown' || row.how === 'chosen'"
                class="field"
                :value="row.item ?? ''"
                :aria-label="`Row ${row.row} stands for`"
                @change="choose(row.number, $event)"
              >
                <option value="">choose…</option>
                <option v-for="[item, label] in items" :key="item" :value="item">{{ label }}</option>
              </select>
              <template v-else>{{ row.item_label }}</template>
            </td>
            <td class="mono number">{{ row.pack }}</td>
            <td class="mono number">{{ row.was === null ? '' : units.quantity(row.was, '', 2) }}</td>
            <td class="mono number">{{ row.price === null ? '' : units.quantity(row.price, '', 2) }}</td>
            <td class="words">
              <span v-if="row.problem" class="warning">▲ {{ row.problem }}</span>
              <template v-else>{{ WORDS[row.change] }}</template>
            </td>
          </tr>
        </tbody>
      </table>
    </template>
  </section>
</template>

<style scoped>
.prices {
  padding: 0 12px 12px;
}
h3 {
  margin: 6px 0 4px;
  font-size: 0.95rem;
}
.do,
p {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
  margin: 4px 0;
}
.file input {
  position: absolute;
  opacity: 0;
  width: 0;
}
.plain-table {
  width: 100%;
}
.number {
  text-align: right;
}
</style>
