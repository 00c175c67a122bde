<script setup lang="ts">
/** Recorders and storage: what they must hold and what their disks hold, by how these are taken together. */
import { computed } from 'vue'
import type { RecordingPlan } from '@/api/schema'
import { api, take } from '@/api/client'
import { useAsked } from '@/job/useAsked'
import { useJob } from '@/job/useJob'
import { put, type Of } from '@/job/types'
import { useSelection } from '@/job/useSelection'
import SumNumber from '@/ledger/SumNumber.vue'

type Equipment = Of<'equipment'>
const job = useJob()
const selection = useSelection()
const params = { path: { job_id: job.id } }
const { found, said, busy } = useAsked(() => take(api.GET('/api/jobs/{job_id}/ports/recording', { params })))
const things = computed(() => found.value?.things ?? [])
const SETS: Readonly<Record<Equipment['disk_set'], string>> = {
  none: 'each by itself',
  mirror: 'mirror, in pairs',
  single: 'single parity',
  double: 'double parity',
}
function change(one: RecordingPlan, what: Partial<Equipment>): void {
  const element = job.elements.get(one.element_id)
  if (element?.kind === 'equipment') job.edit(`${element.label}: disks and days`, [put({ ...element, ...what })])
}
function disks(one: RecordingPlan, event: Event): void {
  const sizes = (event.target as HTMLInputElement).value
    .split(/[\s,;+]+/)
    .map((word) => Number(word))
    .filter((size) => size > 0 && size <= 1000)
  change(one, { disks_tb: sizes })
}
function number(event: Event, least: number, most: number): number {
  const value = Number((event.target as HTMLInputElement).value)
  return Number.isFinite(value) ? Math.min(most, Math.max(least, value)) : least
}
</script>

<template>
  <section class="panel" aria-label="Recording" :aria-busy="busy">
    <p v-if="said" class="fault lead" role="alert">▲ {{ said }}</p>
    <p v-if="found && !things.length" class="quiet lead">
      Put a recorder or a storage into a rack: what it must hold, and what its disks hold, stands here.
    </p>
    <table v-else-if="things.length" class="plain-table">
      <thead>
        <tr>
          <th>What</th>
          <th>Disks, TB each</th>
          <th>Taken together</th>
          <th>Hours</th>
          <th>Days</th>
          <th class="number">Must hold</th>
          <th class="number">Usable</th>
          <th class="number">Cameras</th>
          <th class="number">Path</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="one in things" :key="one.element_id">
          <th scope="row">
            <button type="button" class="bare" @click="selection.select(one.element_id)">{{ one.label }}</button>
            <span class="quiet what">{{ one.what }}</span>
            <span v-if="one.says" class="quiet what">{{ one.says }}</span>
          </th>
          <td>
            <input
              class="field"
              :aria-label="`Disks of ${one.label} in TB`"
              :placeholder="`up to ${one.bays}`"
              :value="one.disks_tb.join(', ')"
              @change="disks(one, $event)"
            />
          </td>
          <td>
            <select
              class="field"
              :aria-label="`How the disks of ${one.label} are taken together`"
              :value="one.disk_set"
              @change="change(one, { disk_set: ($event.target as HTMLSelectElement).value as Equipment['disk_set'] })"
            >
              <option v-for="(words, code) in SETS" :key="code" :value="code">{{ words }}</option>
            </select>
          </td>
          <td>
            <input
              class="field number"
              type="number"
              min="0"
              max="24"
              :aria-label="`Hours a day ${one.label} records`"
              :value="one.hours"
              @change="change(one, { records_h: number($event, 0, 24) })"
            />
          </td>
          <td>
            <input
              class="field number"
              type="number"
              min="0"
              max="3650"
              :aria-label="`Days ${one.label} keeps`"
              :value="one.days"
              @change="change(one, { keeps_days: Math.round(number($event, 0, 3650)) })"
            />
          </td>
          <td class="number"><SumNumber :sum="one.needs" /></td>
          <td class="number"><SumNumber :sum="one.usable" /></td>
          <td class="number"><SumNumber v-if="one.cameras.limit" :sum="one.cameras" :digits="0" /></td>
          <td class="number"><SumNumber :sum="one.path" :digits="0" /></td>
        </tr>
      </tbody>
    </table>
    <p v-if="things.length" class="quiet lead">
      Privacy law may ask for fewer days and for a notice where cameras look; no views into neighbours. A set of disks
      is no backup.
    </p>
  </section>
</template>

<style scoped>
.panel {
  overflow: auto;
}
.what {
  display: block;
  font-size: 0.85rem;
  white-space: normal;
  min-width: 9rem;
}
input {
  width: 4.6rem;
}
input.number {
  width: 3.4rem;
}
.plain-table th,
.plain-table td {
  padding-inline: 5px;
}
.number {
  text-align: right;
}
</style>
