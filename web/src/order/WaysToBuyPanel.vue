<script setup lang="ts">
/** Good, better, best: three ways to buy the job side by side, each worked out whole when it is asked for. */
import { ref } from 'vue'
import { api, take } from '@/api/client'
import type { WayToBuy, WaysToBuy } from '@/api/schema'
import { useGuarded } from '@/api/useGuarded'
import { useAssessment } from '@/job/useAssessment'
import { useJob } from '@/job/useJob'
import type { Operation } from '@/job/types'
import SumNumber from '@/ledger/SumNumber.vue'
import { useUnits } from '@/units/useUnits'

const job = useJob()
const units = useUnits()
const assessment = useAssessment()
const { said, busy, guarded } = useGuarded()
const found = ref<WaysToBuy | null>(null)
const at = ref(-1)
async function compare(): Promise<void> {
  const answer = await guarded(async () => {
    await job.mustBeSaved()
    return take(api.GET('/api/jobs/{job_id}/order/options', { params: { path: { job_id: job.id } } }))
  })
  if (!answer) return
  found.value = answer
  at.value = assessment.revision
}
function takeIt(way: WayToBuy): void {
  job.edit(`Buy it as ${way.label.toLowerCase()}`, way.operations as Operation[])
  found.value = null
}
const percent = (share: number): string => `${Math.round(share * 100)} %`
const ROWS: readonly (readonly [string, (way: WayToBuy) => string])[] = [
  ['Spaces that meet their need', (way) => percent(way.figures.covered)],
  ['Area that hears a second point', (way) => percent(way.figures.roaming)],
  ['Runs that carry the next generation', (way) => percent(way.figures.carries_next)],
  ['Points of the newest generation', (way) => percent(way.figures.newest_points)],
  ['Ports left free', (way) => String(way.figures.spare_ports)],
  ['Watts left in the switches', (way) => units.quantity(way.figures.spare_w, 'W', 0)],
  ['Faults and warnings open', (way) => `${way.figures.faults} and ${way.figures.warnings}`],
  ['Kit', (way) => units.quantity(way.figures.kit, '', 2)],
  ['Hours', (way) => units.quantity(way.figures.hours, 'h', 1)],
]
</script>

<template>
  <section class="panel" aria-label="Good, better, best" :aria-busy="busy">
    <p class="lead">
      <button type="button" class="ink-button primary" :disabled="busy" @click="compare">
        {{ found ? 'Work them out again' : 'Work out three ways to buy it' }}
      </button>
      <span v-if="busy" class="quiet" role="status">working out coverage, ports and price of each…</span>
      <span v-else-if="found && at !== assessment.revision" class="warning">▲ The job changed since.</span>
      <a class="ink-button" :href="`/api/jobs/${job.id}/export/quote.pdf`" download>Quote (PDF)</a>
    </p>
    <p v-if="said" class="fault lead" role="alert">▲ {{ said }}</p>
    <p v-if="!found && !busy" class="quiet lead">
      Each way is worked out whole: coverage, ports, power and price. The quote has all three with their reasons.
    </p>
    <table v-if="found" class="plain-table ways">
      <thead>
        <tr>
          <th><span class="visually-hidden">Figure</span></th>
          <th v-for="way in found.options" :key="way.code" class="number">{{ way.label }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="[name, tell] in ROWS" :key="name">
          <th scope="row">{{ name }}</th>
          <td v-for="way in found.options" :key="way.code" class="mono number">{{ tell(way) }}</td>
        </tr>
        <tr>
          <th scope="row">In all, tax included</th>
          <td v-for="way in found.options" :key="way.code" class="number">
            <SumNumber :sum="way.whole_sum" :digits="2" />
          </td>
        </tr>
        <tr class="told">
          <th scope="row">Why, and what differs</th>
          <td v-for="way in found.options" :key="way.code" class="words">
            {{ way.why }}
            <span class="quiet">{{ way.changes.join('; ') }}.</span>
            <span v-for="one in way.mends" :key="`m${one}`" class="holds">✓ gone: {{ one }}</span>
            <span v-for="one in way.brings" :key="`b${one}`" class="warning">▲ comes: {{ one }}</span>
            <button v-if="way.operations.length" type="button" class="ink-button" @click="takeIt(way)">
              Take {{ way.label.toLowerCase() }}
            </button>
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
.lead {
  display: flex;
  gap: 10px;
  align-items: center;
  flex-wrap: wrap;
}
.ways {
  width: 100%;
  table-layout: fixed;
}
.ways th:first-child {
  width: 27%;
}
.number {
  text-align: right;
}
.told td {
  vertical-align: top;
  white-space: normal;
}
.told td > span {
  display: block;
  margin: 3px 0;
}
</style>
