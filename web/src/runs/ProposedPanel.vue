<script setup lang="ts">
/** Pathways worth making for the runs as they lie: where, how wide, for how many; each made by one press. */
import { computed, onUnmounted } from 'vue'
import type { PathwayToMake } from '@/api/schema'
import { api, take } from '@/api/client'
import { useGuarded } from '@/api/useGuarded'
import { useAsked } from '@/job/useAsked'
import { useJob } from '@/job/useJob'
import type { Operation } from '@/job/types'
import { useView } from '@/job/useView'
import { useProposed } from '@/runs/useProposed'
import { useUnits } from '@/units/useUnits'

const job = useJob()
const view = useView()
const units = useUnits()
const proposed = useProposed()
const { said: refused, busy, guarded } = useGuarded()
const { found, said } = useAsked(() =>
  take(api.GET('/api/jobs/{job_id}/runs/pathways', { params: { path: { job_id: job.id } } })),
)
const currency = computed(() => job.of('practice')[0]?.currency ?? 'EUR')
const digs = computed(() => found.value?.pathways.some((one) => one.surroundings === 'ground') ?? false)

onUnmounted(() => proposed.show(null))
function show(one: PathwayToMake): void {
  view.chosenStorey = one.storey_id
  proposed.show(one)
}
async function make(one: PathwayToMake): Promise<void> {
  const params = { path: { job_id: job.id } }
  await job.during(async () => {
    await guarded(async () => {
      await job.mustBeSaved()
      const answer = await take(api.POST('/api/jobs/{job_id}/runs/pathways', { params, body: { key: one.key } }))
      job.edit(`Make a ${one.pathway_kind}`, answer.operations as Operation[])
      proposed.show(null)
    })
  })
}
function size(one: PathwayToMake): string {
  return one.width_mm ? `${one.width_mm.toFixed(0)} mm wide` : one.bore_label || 'no bore is wide enough'
}
</script>

<template>
  <section class="panel" aria-label="Pathways to make">
    <p v-if="said || refused" class="fault" role="alert">▲ {{ said || refused }}</p>
    <p v-if="found && !found.pathways.length" class="quiet lead">
      No pathway is worth making for the runs as they lie: few lie together, and what leaves the house has its own.
    </p>
    <template v-else-if="found">
      <p v-if="digs" class="lead advice">
        ◇ Before anything is dug: where mains, gas and water lie, from their owners. Local rules say how deep and what
        beside.
      </p>
      <table class="plain-table">
        <thead>
          <tr>
            <th>Pathway</th>
            <th>Storey</th>
            <th class="number">Length</th>
            <th>Size</th>
            <th class="number">Runs</th>
            <th class="number">Parts</th>
            <th>Why</th>
            <th><span class="visually-hidden">Make it</span></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="one in found.pathways" :key="one.key" :class="{ chosen: proposed.shown?.key === one.key }">
            <th scope="row">
              <button type="button" class="bare" :aria-pressed="proposed.shown?.key === one.key" @click="show(one)">
                {{ one.pathway_kind }}
              </button>
            </th>
            <td>{{ one.storey_label }}</td>
            <td class="mono">{{ units.quantity(one.length_m, 'm', 1) }}</td>
            <td>{{ size(one) }}</td>
            <td class="mono" :title="one.run_labels.join(', ')">{{ one.run_labels.length }}</td>
            <td class="mono">{{ one.cost === null ? 'no price' : units.quantity(one.cost ?? 0, currency, 0) }}</td>
            <td class="words">{{ one.why }}</td>
            <td>
              <button
                type="button"
                class="ink-button"
                :disabled="busy"
                :aria-label="`Make the ${one.pathway_kind} of ${units.quantity(one.length_m, 'm', 1)}`"
                @click="make(one)"
              >
                Make
              </button>
            </td>
          </tr>
        </tbody>
      </table>
    </template>
  </section>
</template>

<style scoped>
.lead {
  margin: 6px 12px 8px;
  line-height: 1.4;
}
.plain-table {
  max-width: 980px;
}
.chosen {
  background: var(--heather-tint);
}
</style>
