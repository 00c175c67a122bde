<script setup lang="ts">
/** Star, chain and mixed; one name or many: what each costs in this building, on these walks. */
import { api, take } from '@/api/client'
import type { Sum } from '@/api/schema'
import { useJob } from '@/job/useJob'
import { useView } from '@/job/useView'
import NamingsTable from '@/links/NamingsTable.vue'
import StrandsPart from '@/links/StrandsPart.vue'
import { useAsked } from '@/job/useAsked'
import { useUnits } from '@/units/useUnits'

const job = useJob()
const view = useView()
const units = useUnits()
const params = { path: { job_id: job.id } }
const wirings = useAsked(() => take(api.GET('/api/jobs/{job_id}/links/wirings', { params })))
const names = useAsked(() => take(api.GET('/api/jobs/{job_id}/links/namings', { params })))
function show(sum: Sum): void {
  view.openSum = sum
}
</script>

<template>
  <section class="panel" aria-label="Compared">
    <h3>How the points are wired</h3>
    <p v-if="!wirings.found.value?.ways.length" class="quiet">
      Place access points and a rack; the wirings are compared here.
    </p>
    <table v-else class="plain-table">
      <thead>
        <tr>
          <th>Wiring</th>
          <th class="number">Cable</th>
          <th class="number">Deepest</th>
          <th class="number">One failure takes</th>
          <th class="number">Busiest cable</th>
          <th>What it means</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="way in wirings.found.value.ways" :key="way.code">
          <th scope="row">{{ way.label }}</th>
          <td class="mono">
            <button type="button" class="bare sum-link" @click="show(way.length)">
              {{ units.quantity(way.length.value, 'm', 0) }}
            </button>
          </td>
          <td class="mono">{{ way.deepest }}</td>
          <td class="mono">{{ way.cut_mean }}, at worst {{ way.cut_worst }}</td>
          <td class="mono">
            <button
              type="button"
              class="bare sum-link"
              :class="{ fault: !way.busiest.holds }"
              @click="show(way.busiest)"
            >
              {{ units.quantity(way.busiest.value, 'Mb/s', 0) }}
            </button>
          </td>
          <td class="words">{{ way.says }}</td>
        </tr>
      </tbody>
    </table>
    <h3>One name or many</h3>
    <p v-if="!names.found.value?.walks" class="quiet">
      Draw a walk in stage 3, from room to room as people go; what it costs by how points are named stands here.
    </p>
    <NamingsTable v-else :ways="names.found.value.ways" />
    <StrandsPart />
    <p
      v-for="said in [wirings.said.value, names.said.value].filter(Boolean)"
      :key="said ?? ''"
      class="fault"
      role="alert"
    >
      ▲ {{ said }}
    </p>
  </section>
</template>

<style scoped>
h3 {
  margin: 10px 12px 2px;
  font-size: 0.95rem;
}
p {
  margin: 2px 12px 6px;
}
.plain-table {
  max-width: 1080px;
}
.words {
  width: 38%;
}
</style>
