<script setup lang="ts">
/** The inventory: typed, pasted from a spreadsheet or from a file; split into runs and air by practice. */
import { vDraft } from '@/ink/draft'
import { computed, ref } from 'vue'
import type { ListRead } from '@/api/schema'
import { api, inForm, take } from '@/api/client'
import { useGuarded } from '@/api/useGuarded'
import { useBrief, type Count } from '@/brief/useBrief'
import { useAssessment } from '@/job/useAssessment'
import { put, type Operation } from '@/job/types'
import { useJob } from '@/job/useJob'
import { useLibrary } from '@/job/useLibrary'

const job = useJob()
const library = useLibrary()
const assessment = useAssessment()
const { brief, change } = useBrief()
const HOLDS: Readonly<Record<string, string>> = {
  what: 'names',
  kind: 'kinds',
  count: 'counts',
  place: 'rooms',
  floor: 'storeys',
  position: 'positions',
  mac: 'MAC addresses',
  serial: 'serial numbers',
  vlan: 'VLANs',
  address: 'addresses',
  note: 'notes',
}
const PURPOSES: readonly Count['purpose'][] = ['main', 'guest', 'things', 'cameras', 'voice']
const pasted = ref('')
const { said, guarded } = useGuarded()
const read = ref<ListRead | null>(null)
const place = ref(true)
const left = computed(() => new Map((read.value?.placed.left ?? []).map(([row, why]) => [row, why] as const)))
const puts = computed(() => (place.value ? (read.value?.placed.puts ?? []) : []))
const lines = computed(() => assessment.found?.inventory ?? [])
const byWay = computed(() => {
  const sum = (way: string) => lines.value.filter((line) => line.way === way).reduce((n, line) => n + line.count, 0)
  return { cable: sum('cable'), air: sum('air') }
})
const reasons = ref<Record<number, string>>({})

function counts(devices: Count[]): void {
  change('Change device counts', { devices })
}
function set(index: number, changes: Partial<Count>): void {
  counts((brief.value?.devices ?? []).map((count, i) => (i === index ? { ...count, ...changes } : count)))
}
function whole(event: Event, fallback: number): number {
  const value = Number((event.target as HTMLInputElement).value)
  return Number.isInteger(value) && value >= 0 ? value : fallback
}
function kind(index: number, event: Event): void {
  const id = (event.target as HTMLSelectElement).value || null
  const row = id ? library.shelves?.device_kinds[id] : undefined
  set(index, { device: id, ...(row ? { moves: row.moves, purpose: row.purpose } : {}) })
}
/** Overruling the practice needs a reason; it is asked for first. */
function overrule(index: number, way: 'air' | 'cable'): void {
  const line = lines.value[index]
  if (!line) return
  if (line.advised === way) return set(index, { way: null, reason: '' })
  reasons.value = { ...reasons.value, [index]: '' }
}
function giveReason(index: number): void {
  const reason = reasons.value[index]?.trim()
  const line = lines.value[index]
  if (!reason || !line) return
  set(index, { way: line.advised === 'air' ? 'cable' : 'air', reason })
  reasons.value = Object.fromEntries(Object.entries(reasons.value).filter(([key]) => Number(key) !== index))
}
async function understand(file: Blob, name: string): Promise<void> {
  read.value = null
  const call = { params: { path: { job_id: job.id } }, body: inForm(file, name) }
  read.value =
    ((await guarded(() => take(api.POST('/api/jobs/{job_id}/inventory', call)))) as ListRead | undefined) ?? null
}
function fromFile(event: Event): void {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  input.value = ''
  if (file) void understand(file, file.name)
}
function readPasted(): void {
  void understand(new Blob([pasted.value]), 'pasted.tsv')
}
function takeIn(): void {
  if (!read.value || !brief.value) return
  // One edit, so that one undo takes the whole list back.
  const devices = [...brief.value.devices, ...(read.value.devices as Count[])]
  job.edit('Take a device list in', [put({ ...brief.value, devices }), ...(puts.value as Operation[])])
  read.value = null
  pasted.value = ''
}
</script>

<template>
  <div class="devices">
    <p class="quiet">
      By this practice <strong>{{ byWay.cable }}</strong> things get a cable and <strong>{{ byWay.air }}</strong> go by
      air.
    </p>
    <table v-if="brief?.devices.length" aria-label="Devices">
      <thead>
        <tr>
          <th scope="col">What</th>
          <th scope="col">Kind</th>
          <th scope="col">Count</th>
          <th scope="col">Network</th>
          <th scope="col">Carried by</th>
          <th scope="col">Why</th>
          <th scope="col"><span class="visually-hidden">Remove</span></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(count, i) in brief.devices" :key="i">
          <td>
            <input
              v-draft="count.what"
              class="field what"
              :aria-label="`What, row ${i + 1}`"
              maxlength="80"
              @change="set(i, { what: ($event.target as HTMLInputElement).value.trim() || count.what })"
            />
          </td>
          <td>
            <select
              class="field"
              :value="count.device ?? ''"
              :aria-label="`Kind, row ${i + 1}`"
              @change="kind(i, $event)"
            >
              <option value="">other</option>
              <option v-for="(k, id) in library.shelves?.device_kinds" :key="id" :value="id">{{ k.label }}</option>
            </select>
          </td>
          <td>
            <input
              v-draft="count.count"
              class="field n"
              :aria-label="`Count, row ${i + 1}`"
              inputmode="numeric"
              @change="set(i, { count: whole($event, count.count) })"
            />
          </td>
          <td>
            <select
              class="field"
              :value="count.purpose"
              :aria-label="`Network, row ${i + 1}`"
              @change="set(i, { purpose: ($event.target as HTMLSelectElement).value as Count['purpose'] })"
            >
              <option v-for="p in PURPOSES" :key="p">{{ p }}</option>
            </select>
          </td>
          <td>
            <select
              class="field"
              :value="lines[i]?.way"
              :aria-label="`Carried by, row ${i + 1}`"
              @change="overrule(i, ($event.target as HTMLSelectElement).value as 'air' | 'cable')"
            >
              <option value="cable">cable</option>
              <option value="air">air</option>
            </select>
          </td>
          <td class="why">
            <span v-if="i in reasons" class="reason"
              ><input
                v-model="reasons[i]"
                class="field"
                :aria-label="`Reason, row ${i + 1}`"
                placeholder="against the practice, because"
                @keydown.enter="giveReason(i)"
              /><button type="button" class="ink-button" @click="giveReason(i)">Keep</button></span
            >
            <span v-else class="quiet" :class="{ over: lines[i]?.overruled }">{{ lines[i]?.why }}</span>
          </td>
          <td>
            <button
              type="button"
              class="bare quiet"
              :aria-label="`Remove row ${i + 1}`"
              @click="counts(brief.devices.filter((_, j) => j !== i))"
            >
              ✕
            </button>
          </td>
        </tr>
      </tbody>
    </table>
    <p v-else class="quiet">No device counted yet. Type rows, paste them from a spreadsheet, or send a list.</p>
    <div class="more">
      <button
        type="button"
        class="ink-button"
        @click="
          counts([
            ...(brief?.devices ?? []),
            {
              what: 'Laptops and phones',
              count: 10,
              moves: true,
              purpose: 'main',
              device: null,
              way: null,
              reason: '',
            },
          ])
        "
      >
        Add a row
      </button>
      <label class="ink-button file"
        ><input type="file" accept=".csv,.tsv,.txt,.xlsx" aria-label="Device list" @change="fromFile" />Read a list
        (CSV, XLSX)</label
      >
    </div>
    <details>
      <summary>Paste from a spreadsheet</summary>
      <textarea
        v-model="pasted"
        class="field"
        rows="4"
        aria-label="Rows pasted from a spreadsheet"
        placeholder="Laptops&#9;24"
      />
      <button type="button" class="ink-button" :disabled="!pasted.trim()" @click="readPasted">Read it</button>
    </details>
    <p v-if="said" class="fault" role="alert">▲ {{ said }}</p>
    <section v-if="read" class="read" aria-label="What was understood">
      <h3>{{ read.rows.length }} rows understood</h3>
      <p class="quiet">
        <template v-for="(c, i) in read.columns" :key="i"
          ><template v-if="i">, </template>“{{ c.heading }}” holds {{ HOLDS[c.holds] ?? c.holds }}</template
        >.
      </p>
      <div class="rows">
        <table aria-label="Rows of the list">
          <thead>
            <tr>
              <th scope="col">Count</th>
              <th scope="col">What</th>
              <th scope="col">Kind</th>
              <th scope="col">Where</th>
              <th scope="col">MAC, serial, VLAN</th>
              <th scope="col">On the plan</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="d in read.rows" :key="d.row">
              <td class="mono">{{ d.count }}</td>
              <td>{{ d.label }}</td>
              <td :class="{ advice: !d.device }">
                {{ d.device ? library.shelves?.device_kinds[d.device]?.label : '● kind not known' }}
              </td>
              <td>{{ [d.place, d.floor, d.position].filter(Boolean).join(', ') }}</td>
              <td class="mono">{{ [d.mac, d.serial, d.vlan].filter(Boolean).join(' ') }}</td>
              <td class="quiet">{{ left.get(d.row) ?? 'in its room' }}</td>
            </tr>
          </tbody>
        </table>
      </div>
      <p v-for="(s, i) in read.skipped" :key="i" class="advice">● {{ s.what }}: {{ s.why }}</p>
      <label v-if="read.placed.puts.length" class="place"
        ><input v-model="place" type="checkbox" />Put {{ read.placed.puts.length }} things into the rooms they are said
        to be in</label
      >
      <button type="button" class="ink-button primary" :disabled="!read.devices.length" @click="takeIn">
        Take in {{ read.devices.length }} counts<template v-if="puts.length"> and {{ puts.length }} things</template>
      </button>
      <button type="button" class="ink-button" @click="read = null">Leave them</button>
    </section>
  </div>
</template>

<style scoped>
.devices {
  display: grid;
  gap: 10px;
  justify-items: start;
}
p {
  margin: 0;
}
table {
  border-collapse: collapse;
  font-size: 0.9rem;
  width: 100%;
}
th {
  text-align: left;
  font-weight: 400;
  color: var(--ink-quiet);
}
td {
  padding: 2px 8px 2px 0;
  border-bottom: 1px solid var(--rule);
  vertical-align: top;
}
.what {
  width: 100%;
  min-width: 9rem;
}
.n {
  width: 4rem;
}
.why {
  font-size: 0.85rem;
  line-height: 1.25;
  max-width: 260px;
}
.over {
  color: var(--gorse);
}
.reason {
  display: flex;
  gap: 4px;
}
.more {
  display: flex;
  gap: 8px;
}
.file {
  position: relative;
  cursor: pointer;
}
.file input {
  position: absolute;
  inset: 0;
  opacity: 0;
  cursor: pointer;
  width: 100%;
}
.file:focus-within {
  outline: 2px solid var(--heather);
}
textarea {
  display: block;
  width: 30rem;
  margin: 6px 0;
  font-family: var(--mono);
}
.rows {
  max-height: 260px;
  overflow: auto;
}
.place {
  display: flex;
  gap: 6px;
  align-items: center;
  margin: 6px 0;
}
.read {
  border: 1px solid var(--rule);
  padding: 8px 12px;
  background: var(--paper-raised);
}
summary {
  cursor: pointer;
}
</style>
