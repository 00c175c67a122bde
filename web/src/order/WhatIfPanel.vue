<script setup lang="ts">
/** What if a line of the order were another: one more, one fewer, and what does the same for how much. */
import { computed, ref } from 'vue'
import { api, take } from '@/api/client'
import type { Instead } from '@/api/schema'
import { useAsked } from '@/job/useAsked'
import { useAssessment } from '@/job/useAssessment'
import { useJob } from '@/job/useJob'
import type { Operation } from '@/job/types'
import { useUnits } from '@/units/useUnits'

const job = useJob()
const units = useUnits()
const assessment = useAssessment()
const lines = computed(() => {
  const seen = new Map((assessment.found?.kit ?? []).filter((line) => line.buys.length).map((l) => [l.item, l.label]))
  return [...seen].map(([item, label]) => ({ item, label }))
})
const picked = ref('')
const item = computed(() => lines.value.find((line) => line.item === picked.value)?.item ?? lines.value[0]?.item)
const { found, said, busy } = useAsked(
  () =>
    item.value
      ? take(
          api.GET('/api/jobs/{job_id}/order/line', {
            params: { path: { job_id: job.id }, query: { item: item.value } },
          }),
        )
      : null,
  [item],
)
function by(value: number | null | undefined): string {
  if (value === null || value === undefined) return 'not told: no price'
  const much = units.quantity(Math.abs(value), found.value?.currency ?? '', 2)
  return value > 0 ? `${much} more` : value < 0 ? `${much} less` : 'nothing'
}
function takeIt(other: Instead): void {
  job.edit(`Take ${other.label} instead`, other.operations as Operation[])
}
</script>

<template>
  <section class="panel" aria-label="What if" :aria-busy="busy">
    <p v-if="!lines.length" class="quiet lead">
      What is placed and run is ordered; what if it were another stands here.
    </p>
    <template v-else>
      <p class="lead">
        <label
          >What if this were another
          <select
            class="field"
            :value="item"
            aria-label="Line of the order"
            @change="picked = ($event.target as HTMLSelectElement).value"
          >
            <option v-for="line in lines" :key="line.item" :value="line.item">{{ line.label }}</option>
          </select></label
        >
        <span v-if="busy" class="quiet" role="status">working it out…</span>
      </p>
      <p v-if="said" class="fault lead" role="alert">▲ {{ said }}</p>
      <template v-if="found">
        <ul class="lead facts">
          <li v-if="found.one_more !== null">One more: {{ by(found.one_more) }}.</li>
          <li v-if="found.one_fewer !== null">One fewer: {{ by(found.one_fewer) }}.</li>
          <li v-if="found.leftover">
            {{ units.quantity(found.leftover, found.unit, 0) }} left over of the packs<template
              v-if="found.leftover_cost"
            >
              and cost {{ units.quantity(found.leftover_cost, found.currency, 2) }}</template
            >; they count as spares.
          </li>
        </ul>
        <p v-if="!found.instead.length" class="quiet lead">Nothing on the shelves does the same.</p>
        <table v-else class="plain-table">
          <thead>
            <tr>
              <th>Instead</th>
              <th class="number">The kit costs</th>
              <th>That is</th>
              <th>What comes and goes with it</th>
              <th><span class="visually-hidden">Take it</span></th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="other in found.instead" :key="other.item">
              <th scope="row">{{ other.label }}</th>
              <td class="mono number">{{ units.quantity(other.cost, found.currency, 2) }}</td>
              <td class="mono">{{ by(other.more) }}</td>
              <td class="words">
                <span v-if="other.mends" class="holds">✓ {{ other.mends }} gone</span>
                <span v-for="one in other.brings.slice(0, 3)" :key="one.key" class="warning">
                  ▲ {{ one.title }}: {{ one.subject }}</span
                >
                <span v-if="other.brings.length > 3" class="quiet">and {{ other.brings.length - 3 }} more</span>
                <span v-if="!other.mends && !other.brings.length" class="quiet">no finding comes or goes</span>
              </td>
              <td>
                <button type="button" class="ink-button" :disabled="!other.operations.length" @click="takeIt(other)">
                  Take it<span class="visually-hidden">: {{ other.label }}</span>
                </button>
              </td>
            </tr>
          </tbody>
        </table>
      </template>
    </template>
  </section>
</template>

<style scoped>
.panel {
  overflow: auto;
}
.facts {
  list-style: none;
  padding: 0;
}
.words span {
  display: block;
}
.number {
  text-align: right;
}
</style>
