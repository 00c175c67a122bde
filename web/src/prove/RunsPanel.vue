<script setup lang="ts">
/** Every run with what its tests say; a file of tests in; one opened shows its curves against their limits. */
import { computed, ref } from 'vue'
import { useJob } from '@/job/useJob'
import { useSelection } from '@/job/useSelection'
import SumNumber from '@/ledger/SumNumber.vue'
import BySign from '@/prove/BySign.vue'
import RunPart from '@/prove/RunPart.vue'
import StateMark from '@/prove/StateMark.vue'
import TestsFilePart from '@/prove/TestsFilePart.vue'
import { useProven } from '@/prove/useProven'
import { useUnits } from '@/units/useUnits'

const job = useJob()
const units = useUnits()
const selection = useSelection()
const proven = useProven()
const opened = ref('')
const only = ref<'all' | 'open'>('all')
const runs = computed(() => proven.found?.runs ?? [])
const shown = computed(() =>
  runs.value.filter((run) => only.value === 'all' || !['pass', 'marginal'].includes(run.state)),
)
const count = (state: string): number => runs.value.filter((run) => run.state === state).length
const base = `/api/jobs/${job.id}/export`
function open(id: string): void {
  opened.value = opened.value === id ? '' : id
  selection.select(id)
}
</script>

<template>
  <section class="panel" aria-label="Runs tested">
    <p v-if="proven.said" class="fault lead" role="alert">▲ {{ proven.said }}</p>
    <p class="lead head">
      <span v-if="runs.length"
        ><strong>{{ runs.length - count('none') - count('other') }}</strong> of {{ runs.length }} tested<template
          v-if="count('marginal')"
          >, {{ count('marginal') }} by little</template
        ><template v-if="count('fail')"
          >, <span class="fault">▲ {{ count('fail') }} fail</span></template
        ></span
      >
      <span v-else class="quiet">No run is drawn yet: draw them in stage 5, then test them here.</span>
      <label><input v-model="only" type="checkbox" true-value="open" false-value="all" /> only those not done</label>
      <BySign />
    </p>
    <TestsFilePart>
      <span class="out">
        <a class="ink-button" :href="`${base}/tests.csv`" download>Tests (CSV)</a>
        <a class="ink-button" :href="`${base}/test-report.pdf`" download>Report (PDF)</a>
        <a class="ink-button" :href="`${base}/proof.xlsx`" download>All of it (XLSX)</a>
      </span>
    </TestsFilePart>
    <table v-if="runs.length" class="plain-table">
      <thead>
        <tr>
          <th>Run</th>
          <th>To</th>
          <th>To be tested as</th>
          <th>Result</th>
          <th class="number">Margin</th>
          <th class="number">Measured</th>
          <th class="number">Drawn</th>
          <th>By</th>
          <th>Remark</th>
        </tr>
      </thead>
      <tbody v-for="run in shown" :key="run.run_id">
        <tr :class="{ chosen: opened === run.run_id }">
          <th scope="row">
            <button type="button" class="bare label" :aria-expanded="opened === run.run_id" @click="open(run.run_id)">
              {{ run.label }}
            </button>
          </th>
          <td>{{ run.to_label }}</td>
          <td class="quiet">
            {{ run.configuration }}<template v-if="run.test_class">, class {{ run.test_class }}</template>
          </td>
          <td><StateMark :state="run.state" /><span v-if="run.by_word" class="quiet">, by word</span></td>
          <td class="mono"><SumNumber v-if="run.margin_sum" :sum="run.margin_sum" :digits="1" /></td>
          <td class="mono" :class="{ warning: run.length_off || run.apart }">
            <template v-if="run.measured_m !== null"
              ><span v-if="run.length_off || run.apart" aria-hidden="true">▲ </span
              >{{ units.quantity(run.measured_m, 'm', 1) }}</template
            >
          </td>
          <td class="mono">{{ units.quantity(run.planned_m, 'm', 1) }}</td>
          <td>{{ run.tested_by }}</td>
          <td class="words">{{ run.fault?.name ?? (run.state === 'none' ? '' : run.why) }}</td>
        </tr>
        <tr v-if="opened === run.run_id">
          <td colspan="9" class="opened"><RunPart :run="run" /></td>
        </tr>
      </tbody>
    </table>
  </section>
</template>

<style scoped>
.panel {
  overflow: auto;
}
.head {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 14px;
  align-items: center;
}
.out {
  display: inline-flex;
  gap: 6px;
  margin-left: 12px;
}
.plain-table {
  width: 100%;
}
.plain-table th,
.plain-table td {
  padding: 3px 8px;
}
.label {
  text-decoration: underline dotted;
  text-underline-offset: 3px;
  min-height: 24px;
}
.chosen {
  background: var(--heather-tint);
}
.plain-table td.opened {
  white-space: normal;
  padding: 0 8px 8px;
}
.plain-table td.words {
  min-width: 12rem;
}
</style>
