<script setup lang="ts">
/** The ports as they would be given out anew: what can be held against them now and then, and the patches that move. */
import { computed } from 'vue'
import { api, take } from '@/api/client'
import type { Held, PortMend } from '@/api/schema'
import { useGuarded } from '@/api/useGuarded'
import { useJob } from '@/job/useJob'
import type { Operation } from '@/job/types'
import { useSelection } from '@/job/useSelection'
import { useAsked } from '@/job/useAsked'
import SumNumber from '@/ledger/SumNumber.vue'
import { useUnits } from '@/units/useUnits'

const job = useJob()
const selection = useSelection()
const units = useUnits()
const { said, busy, guarded } = useGuarded()
const params = { path: { job_id: job.id } }
const asked = useAsked(() => take(api.GET('/api/jobs/{job_id}/ports/anew', { params })))
const WORDS: Readonly<Record<keyof Held, string>> = {
  unplaced: 'ends without a port',
  under_fed: 'devices under-fed',
  over_budget: 'switches over their budget',
  slower: 'ports slower than what hangs on them',
  together: 'pairs that cover for each other on one switch',
}
const rows = computed(() => {
  const found = asked.found.value
  if (!found) return []
  return (Object.keys(WORDS) as (keyof Held)[]).map((key) => ({
    key,
    words: WORDS[key],
    now: found.before[key],
    then: found.after[key],
  }))
})
function mend(way: PortMend): void {
  job.edit(way.fix.label, way.fix.operations as Operation[])
}
const conflicts = computed(() => asked.found.value?.conflicts ?? [])
async function move(): Promise<void> {
  await job.during(async () => {
    await guarded(async () => {
      await job.mustBeSaved()
      const answer = await take(api.POST('/api/jobs/{job_id}/ports/anew', { params }))
      job.edit('Give ports out anew', answer.operations as Operation[])
    })
  })
}
</script>

<template>
  <section class="panel" aria-label="Re-patch">
    <p v-for="words in [said, asked.said.value].filter(Boolean)" :key="words ?? ''" class="fault" role="alert">
      ▲ {{ words }}
    </p>
    <p v-if="asked.found.value && !asked.found.value.moves.length" class="lead">
      <span class="holds" aria-hidden="true">✓</span> No patch need move: giving the ports out anew would better nothing
      that is worth it.
    </p>
    <template v-else-if="asked.found.value">
      <p class="lead">
        {{ asked.found.value.moves.length }}
        {{ asked.found.value.moves.length === 1 ? 'patch moves' : 'patches move' }}, all others stay{{
          asked.found.value.proven ? ', and no way is better by these measures' : ''
        }}. What moves is patched by hand: take it before labels are printed.
        <button type="button" class="ink-button" :disabled="busy" @click="move">
          Move {{ asked.found.value.moves.length }}
        </button>
      </p>
      <div class="both">
        <table class="plain-table counts">
          <thead>
            <tr>
              <th>What can be held against it</th>
              <th class="number">Now</th>
              <th class="number">Then</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="row in rows" :key="row.key">
              <th scope="row">{{ row.words }}</th>
              <td class="mono">{{ row.now }}</td>
              <td class="mono" :class="row.then < row.now ? 'holds' : ''">{{ row.then }}</td>
            </tr>
          </tbody>
        </table>
        <table class="plain-table">
          <thead>
            <tr>
              <th>Run</th>
              <th>To</th>
              <th class="number">From port</th>
              <th class="number">To port</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="one in asked.found.value.moves" :key="`${one.run_id}${one.to_port}`">
              <th scope="row">
                <button type="button" class="bare" @click="selection.select(one.run_id)">{{ one.run_label }}</button>
              </th>
              <td>{{ one.to_label }}</td>
              <td class="mono">{{ one.from_port || 'none' }}</td>
              <td class="mono">{{ one.to_port }}</td>
            </tr>
          </tbody>
        </table>
      </div>
    </template>
    <section v-if="conflicts.length" class="why" aria-label="What cannot all hold">
      <h3>What cannot all hold, however ports are given out</h3>
      <table class="plain-table">
        <thead>
          <tr>
            <th>Rack</th>
            <th>Together too much</th>
            <th>Ways out, then the patches are looked at again</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="one in conflicts" :key="one.wants.join()">
            <th scope="row">{{ one.rack_label }}</th>
            <td class="words">
              <ul>
                <li v-for="want in one.wants" :key="want">{{ units.sentence(want) }}</li>
              </ul>
            </td>
            <td class="ways">
              <p v-for="way in one.ways" :key="way.fix.label" class="way">
                <button type="button" class="ink-button" @click="mend(way)">{{ way.fix.label }}</button>
                <SumNumber :sum="way.cost" :digits="0" plain />
              </p>
              <span v-if="!one.ways.length" class="quiet">
                Nothing on the shelf mends it: leave it where it serves, or add a model of your own.
              </span>
            </td>
          </tr>
        </tbody>
      </table>
    </section>
  </section>
</template>

<style scoped>
.lead {
  margin: 6px 12px 8px;
  line-height: 1.4;
}
.both {
  display: grid;
  grid-template-columns: minmax(20rem, 26rem) minmax(22rem, 30rem);
  gap: 20px;
  align-items: start;
}
.why {
  margin: 12px 12px 10px;
}
.why h3 {
  margin: 0 0 4px;
  font-size: 1rem;
}
.why .words {
  min-width: 21rem;
}
.why ul {
  margin: 0;
  padding-left: 1.1rem;
}
.ways {
  white-space: normal;
}
.way {
  display: flex;
  gap: 10px;
  align-items: center;
  margin: 0 0 4px;
}
.counts th {
  white-space: normal;
}
</style>
