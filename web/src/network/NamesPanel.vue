<script setup lang="ts">
/** Names on the air by access point and band: what is on where, and what beacons cost there. */
import { computed } from 'vue'
import { api, take } from '@/api/client'
import { useAsked } from '@/job/useAsked'
import { useJob } from '@/job/useJob'
import { useSelection } from '@/job/useSelection'
import SumNumber from '@/ledger/SumNumber.vue'
import { useSuggestion } from '@/stages/actions/useSuggestion'
import type { NameColumn, NameRow } from '@/api/schema'

const job = useJob()
const selection = useSelection()
const params = { path: { job_id: job.id } }
const { found, said } = useAsked(() => take(api.GET('/api/jobs/{job_id}/network/names', { params })))
const { busy, suggest } = useSuggestion()
interface Group {
  id: string
  label: string
  rows: NameRow[]
}
const groups = computed(() => {
  const made: Group[] = []
  for (const row of found.value?.rows ?? []) {
    const last = made.at(-1)
    if (last?.id === row.storey_id) last.rows.push(row)
    else made.push({ id: row.storey_id, label: row.storey, rows: [row] })
  }
  return made
})
function press(column: NameColumn, where: string, place: string, on: boolean): void {
  const body = { ssid_id: column.ssid_id, where, on }
  void suggest(
    () => take(api.POST('/api/jobs/{job_id}/network/names', { params, body })),
    `${column.label} ${on ? 'on the air' : 'off the air'}: ${place}`,
    'Nothing changes.',
  )
}
const all = (group: Group, n: number): boolean =>
  group.rows.every((row) => row.cells[n]?.on || !row.cells[n]?.bands.length)
const said_of = (row: NameRow, n: number): string => {
  const cell = row.cells[n]
  return cell?.on ? cell.bands.join(' · ') : '–'
}
</script>

<template>
  <section class="panel" aria-label="Names by point">
    <p v-if="said" class="fault lead" role="alert">▲ {{ said }}</p>
    <p v-if="found && !(found.rows.length && found.columns.length)" class="quiet lead">
      Place access points and propose networks: which name is on the air where is pressed here.
    </p>
    <table v-else-if="found" class="plain-table">
      <thead>
        <tr>
          <th>Access point</th>
          <th v-for="column in found.columns" :key="column.ssid_id" class="name">
            <button type="button" class="bare" @click="selection.select(column.ssid_id)">{{ column.label }}</button>
            <span class="quiet">{{ column.network }}</span>
            <span class="bands">
              <button
                v-for="band in found.bands"
                :key="band"
                type="button"
                class="press mono"
                :class="{ on: column.bands.includes(band) }"
                :aria-pressed="column.bands.includes(band)"
                :aria-label="`${band}: ${column.label} on this band`"
                :disabled="busy"
                @click="press(column, band, `${band} GHz`, !column.bands.includes(band))"
              >
                {{ band }}
              </button>
            </span>
          </th>
          <th class="number">Beacons, by band</th>
        </tr>
      </thead>
      <tbody v-for="group in groups" :key="group.id">
        <tr class="storey">
          <th scope="rowgroup">{{ group.label }}</th>
          <td v-for="(column, n) in found.columns" :key="column.ssid_id">
            <button
              type="button"
              class="press"
              :disabled="busy"
              :aria-label="`${all(group, n) ? 'take off' : 'put on all'}: ${column.label}, ${group.label}`"
              @click="press(column, group.id, group.label, !all(group, n))"
            >
              {{ all(group, n) ? 'take off' : 'put on all' }}
            </button>
          </td>
          <td></td>
        </tr>
        <tr v-for="row in group.rows" :key="row.point_id" :class="{ chosen: selection.selected === row.point_id }">
          <th scope="row">
            <button type="button" class="bare" @click="selection.select(row.point_id)">{{ row.label }}</button>
          </th>
          <td v-for="(column, n) in found.columns" :key="column.ssid_id">
            <button
              type="button"
              class="press mono"
              :class="{ on: row.cells[n]?.on }"
              :aria-pressed="row.cells[n]?.on"
              :aria-label="`${said_of(row, n)}: ${column.label} at ${row.label}`"
              :disabled="busy"
              @click="press(column, row.point_id, row.label, !row.cells[n]?.on)"
            >
              {{ said_of(row, n) }}
            </button>
          </td>
          <td class="number">
            <template v-for="(sum, n) in row.airtime" :key="sum.label"
              ><span v-if="n" class="quiet"> · </span><SumNumber :sum="sum" :digits="1" /></template
            ><span v-if="!row.airtime.length" class="quiet">nothing on the air</span>
          </td>
        </tr>
      </tbody>
    </table>
  </section>
</template>

<style scoped>
.panel {
  overflow: auto;
}
.name {
  vertical-align: top;
}
.name .quiet {
  display: block;
  font-weight: 400;
  font-size: 0.82rem;
}
.bands {
  display: flex;
  gap: 3px;
  margin-top: 2px;
}
.press {
  border: 1px solid transparent;
  background: none;
  color: var(--ink-quiet);
  font-size: 0.84rem;
  min-width: 30px;
  min-height: 24px;
  padding: 0 6px;
  cursor: pointer;
}
.bands .press {
  border-color: var(--rule);
}
.press.on {
  color: var(--tarn);
  font-weight: 700;
  border-color: var(--tarn);
}
.press:hover {
  border-color: var(--heather);
}
.storey th {
  font-weight: 700;
  text-align: left;
}
.storey {
  background: var(--paper);
}
.chosen {
  background: var(--heather-tint);
}
.number {
  text-align: right;
  white-space: nowrap;
}
</style>
