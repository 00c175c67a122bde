<script setup lang="ts">
/** What is drilled where: one row a hole, with the sleeve its runs want and what is to be heeded there. */
import { computed } from 'vue'
import type { DrillList } from '@/api/schema'
import { api, take } from '@/api/client'
import { useAsked } from '@/job/useAsked'
import { useJob } from '@/job/useJob'
import { useSelection } from '@/job/useSelection'
import { useView } from '@/job/useView'
import { useUnits } from '@/units/useUnits'

const job = useJob()
const view = useView()
const units = useUnits()
const selection = useSelection()
const { found, said, busy } = useAsked(() =>
  take(api.GET('/api/jobs/{job_id}/runs/holes', { params: { path: { job_id: job.id } } })),
)
/** Holes by their storey, in the order of the list. */
const storeys = computed(() => {
  const by = new Map<string, DrillList['holes']>()
  for (const hole of found.value?.holes ?? []) by.set(hole.storey_label, [...(by.get(hole.storey_label) ?? []), hole])
  return [...by].map(([label, holes]) => ({ label, holes }))
})
const rated = computed(() => found.value?.holes.filter((hole) => hole.fire_minutes).length ?? 0)

function show(hole: DrillList['holes'][number]): void {
  const wall = hole.wall_id && job.elements.has(hole.wall_id) ? hole.wall_id : null
  selection.select(wall)
  view.chosenStorey = hole.storey_id
}
</script>

<template>
  <section class="panel" aria-label="Drill list" :aria-busy="busy">
    <p v-if="said" class="fault" role="alert">▲ {{ said }}</p>
    <p v-if="found && !found.holes.length" class="quiet lead">
      Nothing is drilled yet: run cables, and every wall and floor they go through stands here.
    </p>
    <template v-else-if="found">
      <p class="lead">
        {{ found.holes.length }} {{ found.holes.length === 1 ? 'hole' : 'holes' }}, {{ found.hours }} h;
        {{ rated }} through what holds fire back, each closed with a rated system.
      </p>
      <p class="lead advice">
        ◇ Before drilling find cables and pipes, and ask for asbestos and lead paint in old fabric. Structure, lead and
        fire walls only with the word of whoever answers for them.
      </p>
      <table class="plain-table">
        <thead>
          <tr>
            <th>Wall or floor</th>
            <th class="number">Across, down</th>
            <th>Sleeve, how full</th>
            <th class="number">Fire</th>
            <th class="runs">For</th>
          </tr>
        </thead>
        <tbody v-for="storey in storeys" :key="storey.label">
          <tr v-if="storeys.length > 1">
            <th colspan="5" scope="rowgroup" class="storey">{{ storey.label }}</th>
          </tr>
          <tr v-for="(hole, n) in storey.holes" :key="n">
            <th scope="row">
              <button type="button" class="bare" :class="{ fault: hole.undrilled }" @click="show(hole)">
                {{ hole.undrilled ? '▲ ' : '' }}{{ hole.wall_label }}
              </button>
              <span class="quiet made">{{ hole.through.toLowerCase() }}</span>
            </th>
            <td class="mono">{{ units.quantity(hole.at.x_m, 'm', 2) }}, {{ units.quantity(hole.at.y_m, 'm', 2) }}</td>
            <td>
              {{ hole.bore_label }}
              <button v-if="hole.fill" type="button" class="bare sum-link mono" @click="view.openSum = hole.fill">
                {{ units.quantity(hole.fill.value, '%', 0) }}
              </button>
            </td>
            <td class="mono">{{ hole.fire_minutes ? units.quantity(hole.fire_minutes, 'min', 0) : '' }}</td>
            <td class="runs mono">
              <button
                v-for="(id, i) in hole.run_ids"
                :key="id"
                type="button"
                class="bare run"
                @click="selection.select(id)"
              >
                {{ hole.run_labels[i] }}
              </button>
            </td>
          </tr>
        </tbody>
      </table>
    </template>
  </section>
</template>

<style scoped>
.plain-table {
  width: 100%;
}
.lead,
.made {
  white-space: normal;
}
.made {
  display: block;
  font-size: 0.85rem;
}
.storey {
  color: var(--ink-quiet);
}
.plain-table .runs {
  text-align: left;
  width: 30%;
  white-space: normal;
}
.run {
  min-height: 24px;
  margin-right: 8px;
}
</style>
