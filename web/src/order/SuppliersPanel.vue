<script setup lang="ts">
/** From whom it is bought: suppliers with their deliveries, price lists out and in, and what comes of it. */
import { computed } from 'vue'
import { api, take } from '@/api/client'
import { vDraft } from '@/ink/draft'
import { useAsked } from '@/job/useAsked'
import { useJob } from '@/job/useJob'
import PricesPart from '@/order/PricesPart.vue'
import { useOrdering, type Ordering } from '@/order/useOrdering'
import { useUnits } from '@/units/useUnits'

const job = useJob()
const units = useUnits()
const { ordering, change } = useOrdering()
const params = { path: { job_id: job.id } }
const { found, said } = useAsked(() => take(api.GET('/api/jobs/{job_id}/order/terms', { params })))
type Supplier = Ordering['suppliers'][number]
function set(at: number, changes: Partial<Supplier>): void {
  change('Change a supplier', {
    suppliers: ordering.value.suppliers.map((one, n) => (n === at ? { ...one, ...changes } : one)),
  })
}
/** A supplier keeps its offers under a new name. */
function rename(at: number, event: Event): void {
  const before = ordering.value.suppliers[at]
  const name = (event.target as HTMLInputElement).value.trim()
  if (!before || !name || ordering.value.suppliers.some((one) => one.name === name)) return
  change('Rename a supplier', {
    suppliers: ordering.value.suppliers.map((one, n) => (n === at ? { ...one, name } : one)),
    offers: ordering.value.offers.map((one) => (one.supplier === before.name ? { ...one, supplier: name } : one)),
  })
}
function remove(at: number): void {
  const gone = ordering.value.suppliers[at]?.name
  change('Remove a supplier and its offers', {
    suppliers: ordering.value.suppliers.filter((_, n) => n !== at),
    offers: ordering.value.offers.filter((one) => one.supplier !== gone),
  })
}
function add(): void {
  const names = new Set(ordering.value.suppliers.map((one) => one.name))
  let n = names.size + 1
  while (names.has(`Supplier ${n}`)) n++
  change('Add a supplier', {
    suppliers: [...ordering.value.suppliers, { name: `Supplier ${n}`, delivery: 0, free_from: null, days: 2 }],
  })
}
function amount(event: Event): number | null {
  const text = (event.target as HTMLInputElement).value.trim().replace(',', '.')
  return text === '' || Number.isNaN(Number(text)) || Number(text) < 0 ? null : Number(text)
}
const offersOf = (name: string): number => ordering.value.offers.filter((one) => one.supplier === name).length
const bought = (name: string) => found.value?.deliveries.find((one) => one.supplier === name)
const best = computed(() => {
  const terms = found.value
  if (!terms) return ''
  const cost = units.quantity(terms.bought, terms.currency, 2)
  return terms.proven
    ? `${cost}; no purchase costs less`
    : `${cost}; none costs less than ${units.quantity(terms.bound, terms.currency, 2)}`
})
</script>

<template>
  <section class="panel" aria-label="Suppliers">
    <p v-if="said" class="fault lead" role="alert">▲ {{ said }}</p>
    <p v-if="found" class="lead">
      What is bought by packs comes to <span class="mono">{{ best }}</span>.
      <span v-if="!ordering.offers.length" class="quiet">
        The library's list prices stand until a supplier's price list is read.</span
      >
    </p>
    <table v-if="ordering.suppliers.length" class="plain-table">
      <thead>
        <tr>
          <th>Supplier</th>
          <th class="number">Delivery</th>
          <th class="number">Free from</th>
          <th class="number">Days</th>
          <th class="number">Offers</th>
          <th class="number">Bought here</th>
          <th class="number">Delivery paid</th>
          <th><span class="visually-hidden">Remove</span></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(one, n) in ordering.suppliers" :key="one.name">
          <th scope="row">
            <input
              v-draft="one.name"
              class="field"
              maxlength="80"
              :aria-label="`Name of ${one.name}`"
              @change="rename(n, $event)"
            />
          </th>
          <td class="number">
            <input
              v-draft="one.delivery"
              class="field n"
              inputmode="decimal"
              :aria-label="`Delivery of ${one.name}`"
              @change="set(n, { delivery: amount($event) ?? one.delivery })"
            />
          </td>
          <td class="number">
            <input
              v-draft="one.free_from ?? ''"
              class="field n"
              inputmode="decimal"
              placeholder="never"
              :aria-label="`Delivery of ${one.name} is free from`"
              @change="set(n, { free_from: amount($event) })"
            />
          </td>
          <td class="number">
            <input
              v-draft="one.days"
              class="field n"
              inputmode="numeric"
              :aria-label="`Days of ${one.name}`"
              @change="set(n, { days: Math.round(amount($event) ?? one.days) })"
            />
          </td>
          <td class="mono number">{{ offersOf(one.name) }}</td>
          <td class="mono number">{{ units.quantity(bought(one.name)?.bought ?? 0, '', 2) }}</td>
          <td class="mono number">{{ units.quantity(bought(one.name)?.cost ?? 0, '', 2) }}</td>
          <td>
            <button type="button" class="bare quiet" :aria-label="`Remove ${one.name}`" @click="remove(n)">✕</button>
          </td>
        </tr>
      </tbody>
    </table>
    <p class="lead">
      <button type="button" class="ink-button" @click="add">Add a supplier</button>
    </p>
    <PricesPart />
  </section>
</template>

<style scoped>
.panel {
  overflow: auto;
}
.field.n {
  width: 5.5rem;
}
.number,
.number .field {
  text-align: right;
}
.bare.quiet {
  min-width: 24px;
  min-height: 24px;
}
</style>
