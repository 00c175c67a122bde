<script setup lang="ts">
/** Other sets of points kept beside the design: on the sheet half and half, or their difference. */
import { computed } from 'vue'
import { useMake } from '@/job/make'
import { put, remove, type Of, type Operation } from '@/job/types'
import { useJob } from '@/job/useJob'
import { useAirView } from '@/air/useAirView'
import { useView } from '@/job/useView'

const job = useJob()
const make = useMake()
const view = useView()
const airView = useAirView()
const variants = computed(() =>
  job.of('variant').toSorted((a, b) => a.label.localeCompare(b.label, undefined, { numeric: true })),
)

function keep(): void {
  job.edit('Keep the design as a variant', [put(make('variant', { points: job.of('access-point') }, 'Design'))])
}
/** Its points become the design; what was the design is kept as a variant in the same edit. */
function use(variant: Of<'variant'>): void {
  const storeys = new Set(view.storeys.map((s) => s.id))
  const next = variant.points.filter((p) => storeys.has(p.storey_id))
  const kept = new Set(next.map((p) => p.id))
  const operations: Operation[] = [put(make('variant', { points: job.of('access-point') }, 'Design before'))]
  operations.push(
    ...next.map((p) => put(p)),
    ...job
      .of('access-point')
      .filter((p) => !kept.has(p.id))
      .map((p) => remove(p.id)),
  )
  airView.compare = null
  job.edit(`Use ${variant.label}`, operations)
}
function compare(id: string, how: 'split' | 'difference'): void {
  airView.compare = airView.compare?.id === id && airView.compare.how === how ? null : { id, how }
}
</script>

<template>
  <section class="panel" aria-label="Compare">
    <div class="top">
      <button type="button" class="ink-button primary" @click="keep">Keep the design as a variant</button>
      <button
        type="button"
        class="ink-button"
        :aria-pressed="airView.compare?.id === 'straight'"
        @click="compare('straight', 'difference')"
      >
        What goes round adds
      </button>
      <span class="quiet">A variant is another set of access points for the same building.</span>
    </div>
    <p v-if="!variants.length" class="quiet hint">
      No variants yet. Keep the design, then move points or let them be placed; compare both here.
    </p>
    <table v-else class="plain-table">
      <thead>
        <tr>
          <th>Variant</th>
          <th>Points</th>
          <th><span class="visually-hidden">What to do</span></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="variant in variants" :key="variant.id">
          <th scope="row">{{ variant.label }}</th>
          <td class="mono">{{ variant.points.length }}</td>
          <td class="acts">
            <button
              type="button"
              class="ink-button"
              :aria-pressed="airView.compare?.id === variant.id && airView.compare.how === 'split'"
              @click="compare(variant.id, 'split')"
            >
              Side by side
            </button>
            <button
              type="button"
              class="ink-button"
              :aria-pressed="airView.compare?.id === variant.id && airView.compare.how === 'difference'"
              @click="compare(variant.id, 'difference')"
            >
              Difference
            </button>
            <button type="button" class="ink-button" @click="use(variant)">Use</button>
            <button
              type="button"
              class="ink-button"
              :aria-label="`Remove ${variant.label}`"
              @click="job.edit(`Remove ${variant.label}`, [remove(variant.id)])"
            >
              Remove
            </button>
          </td>
        </tr>
      </tbody>
    </table>
  </section>
</template>

<style scoped>
.top {
  display: flex;
  gap: 8px;
  align-items: center;
  padding: 6px 12px;
}
.hint {
  margin: 4px 12px;
}
.acts {
  display: flex;
  gap: 4px;
  justify-content: flex-end;
}
</style>
