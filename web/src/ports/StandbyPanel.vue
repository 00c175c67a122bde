<script setup lang="ts">
/** A rack when the mains fail: how long it runs and what stays on, what of the air is left, and what supply would do. */
import { computed, ref } from 'vue'
import type { SupplyChoice } from '@/api/schema'
import { api, take } from '@/api/client'
import { useAsked } from '@/job/useAsked'
import { useJob } from '@/job/useJob'
import { useMake } from '@/job/make'
import { put } from '@/job/types'
import SumNumber from '@/ledger/SumNumber.vue'
import { useLibrary } from '@/job/useLibrary'
import { useUnits } from '@/units/useUnits'

const job = useJob()
const make = useMake()
const units = useUnits()
const library = useLibrary()
const params = { path: { job_id: job.id } }
const { found, said, busy } = useAsked(() => take(api.GET('/api/jobs/{job_id}/ports/standby', { params })))
const chosen = ref('')
const currency = computed(() => job.of('practice')[0]?.currency ?? 'EUR')
const racks = computed(() => found.value?.racks ?? [])
const now = computed(() => racks.value.find((one) => one.rack.rack_id === chosen.value) ?? racks.value[0])
const rack = computed(() => now.value?.rack)
function named(labels: readonly string[], most = 6): string {
  const more = labels.length - most
  return labels.slice(0, most).join(', ') + (more > 0 ? ` and ${more} more` : '')
}
function lost(code: string): readonly string[] {
  return now.value?.air.find((one) => one.code === code)?.spaces_lost ?? []
}
function wants(event: Event): void {
  const element = job.elements.get(rack.value?.rack_id ?? '')
  const value = Number((event.target as HTMLInputElement).value)
  if (element?.kind !== 'rack' || !Number.isFinite(value)) return
  const keeps_min = Math.round(Math.min(1440, Math.max(0, value)))
  if (keeps_min !== element.keeps_min)
    job.edit(`${element.label} runs ${keeps_min} min alone`, [put({ ...element, keeps_min })])
}
/** Into the rack, or in place of what stands there. */
function takeSupply(one: SupplyChoice): void {
  const here = rack.value?.rack_id
  if (!here) return
  const there = job
    .of('equipment')
    .find(
      (thing) =>
        thing.place.where === 'rack' &&
        thing.place.rack_id === here &&
        library.shelves?.equipment[thing.model]?.can.includes('keeps_running'),
    )
  const element = there
    ? { ...there, model: one.model }
    : make('equipment', { model: one.model, place: { where: 'rack', rack_id: here, unit: null, face: 'front' } }, 'UPS')
  job.edit(`${one.label} into ${rack.value?.label ?? 'the rack'}`, [put(element)])
}
</script>

<template>
  <section class="panel" aria-label="Battery" :aria-busy="busy">
    <p v-if="said" class="fault lead" role="alert">▲ {{ said }}</p>
    <p v-if="found && !racks.length" class="quiet lead">
      Mark a rack on the sheet: how long it runs when the mains fail stands here.
    </p>
    <template v-else-if="rack">
      <p class="head">
        <label v-if="racks.length > 1">
          Rack
          <select v-model="chosen" class="field">
            <option v-for="one in racks" :key="one.rack.rack_id" :value="one.rack.rack_id">{{ one.rack.label }}</option>
          </select>
        </label>
        <label>
          {{ rack.label }} is to run
          <input class="field number" type="number" min="0" max="1440" :value="rack.wants_min" @change="wants" /> min
          alone
        </label>
        <span class="quiet">{{
          rack.supplies.length ? `on ${rack.supplies.join(' and ')}` : 'no battery stands in it yet'
        }}</span>
      </p>
      <div class="both">
        <table v-if="rack.ways.length" class="plain-table">
          <thead>
            <tr>
              <th>Kept on</th>
              <th class="number">Load</th>
              <th class="number">Runs</th>
              <th>Goes dark</th>
              <th>Spaces without their need</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="way in rack.ways" :key="way.code">
              <th scope="row">
                {{ way.label }}
                <span class="quiet">{{ way.kept.length }} devices{{ way.code === 'staged' ? ' at the end' : '' }}</span>
              </th>
              <td class="number"><SumNumber :sum="way.load" :digits="0" /></td>
              <td class="number"><SumNumber :sum="way.minutes" :digits="0" /></td>
              <td class="words">{{ named(way.lost) || 'nothing' }}</td>
              <td class="words">{{ named(lost(way.code)) || 'none' }}</td>
            </tr>
          </tbody>
        </table>
        <table class="plain-table">
          <thead>
            <tr>
              <th>On the shelf</th>
              <th class="number">Price</th>
              <th class="number">All on</th>
              <th class="number">Shed by stages</th>
              <th><span class="visually-hidden">Take it</span></th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="one in rack.choices" :key="one.model">
              <th scope="row">
                <span :class="one.holds ? 'holds' : 'fault'" aria-hidden="true">{{ one.holds ? '✓' : '▲' }}</span>
                {{ one.label
                }}<span v-if="one.model === rack.advised && rack.wants_min" class="quiet"> cheapest that lasts</span>
              </th>
              <td class="mono">{{ one.price === null ? 'not known' : units.quantity(one.price, currency, 0) }}</td>
              <td v-for="sum in [one.everything, one.staged]" :key="sum.label" class="number">
                <SumNumber v-if="one.carries" :sum="sum" :digits="0" /><template v-else>overloaded</template>
              </td>
              <td>
                <button type="button" class="ink-button" :aria-label="`Take ${one.label}`" @click="takeSupply(one)">
                  Take
                </button>
              </td>
            </tr>
          </tbody>
        </table>
      </div>
      <p class="quiet lead">
        Batteries as they are at the end of their life. Minutes are computed from typical watts: prove them by pulling
        the plug at handover.
      </p>
    </template>
  </section>
</template>

<style scoped>
.panel {
  overflow: auto;
}
.head input {
  width: 4.5rem;
}
.both {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 24px;
  align-items: start;
}
.both table {
  flex: 0 1 auto;
}
.words {
  max-width: 15rem;
}
.number {
  text-align: right;
}
.lead {
  margin: 6px 12px;
  font-size: 0.88rem;
}
</style>
