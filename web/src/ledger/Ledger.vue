<script setup lang="ts">
/** The line at the foot: running totals with their limits; a press goes there and opens the sum. */
import { computed } from 'vue'
import type { LedgerEntry } from '@/api/schema'
import Mark from '@/ink/Mark.vue'
import { useAssessment } from '@/job/useAssessment'
import { useJob } from '@/job/useJob'
import { useSelection } from '@/job/useSelection'
import { useView } from '@/job/useView'
import { convert, number } from '@/units/units'
import { usePreferences } from '@/units/preferences'

const job = useJob()
const view = useView()
const selection = useSelection()
const assessment = useAssessment()
const preferences = usePreferences()
const NAMES: Record<string, string> = {
  spaces: 'spaces',
  longest: 'tightest run',
  poe: 'PoE',
  ports: 'ports',
  kit: 'kit',
  hours: 'hours',
}

const entries = computed(() =>
  (assessment.found?.ledger ?? []).map((entry) => {
    const { value, unit, limit } = entry.sum
    const shown = convert(value, unit, preferences.units)
    const digits = entry.key === 'longest' || entry.key === 'hours' ? 1 : 0
    const most =
      limit === null || limit === undefined ? '' : ` / ${number(convert(limit, unit, preferences.units).value, digits)}`
    return {
      entry,
      name: NAMES[entry.key] ?? entry.key,
      text: `${number(shown.value, digits)}${most} ${entry.key === 'hours' ? '' : shown.unit}`.trim(),
    }
  }),
)
const state = computed(() => {
  if (!job.loaded) return 'opening'
  const held = job.unstored ? 'held in this window alone: keep it open' : ''
  if (job.gone) return 'the job is gone'
  if (job.offline) return `offline, ${job.waiting.length} waiting${held && `, ${held}`}`
  if (job.conflict) return `${job.waiting.length} waiting for your choice`
  if (job.aside.length) return `${job.aside.length} not saved`
  if (!job.waiting.length) return 'all saved'
  return held ? `saving, ${held}` : 'saving'
})
const wrong = computed(() => job.offline || job.gone !== null || job.conflict !== null || job.aside.length > 0)
function go(entry: LedgerEntry): void {
  view.stage = entry.stage
  if (entry.goes_to && job.elements.has(entry.goes_to)) selection.select(entry.goes_to)
  view.openSum = entry.sum
}
</script>

<template>
  <footer class="ledger" aria-label="Ledger">
    <button
      v-for="{ entry, name, text } in entries"
      :key="entry.key"
      type="button"
      :class="{ over: !entry.sum.holds }"
      :data-key="entry.key"
      :title="`${entry.sum.label}: open the sum`"
      @click="go(entry)"
    >
      <Mark
        v-if="entry.sum.limit !== null && entry.sum.limit !== undefined"
        :kind="entry.sum.holds ? 'holds' : 'fault'"
      />
      <span>{{ name }}</span> <span class="mono">{{ text }}</span>
    </button>
    <span v-if="!entries.length" class="quiet">{{
      assessment.found ? 'Totals appear here as the job grows.' : 'Computing…'
    }}</span>
    <span class="state quiet" role="status" :class="{ fault: wrong }">{{ state }}</span>
  </footer>
</template>

<style scoped>
.ledger {
  display: flex;
  align-items: center;
  gap: 4px 20px;
  padding: 0 14px;
  border-top: 1px solid var(--ink);
  background: var(--paper-deep);
  white-space: nowrap;
  overflow: hidden;
  min-width: 0;
}
button {
  display: flex;
  gap: 5px;
  align-items: baseline;
  font: inherit;
  font-size: 0.92rem;
  color: var(--ink);
  background: none;
  border: 0;
  padding: 6px 0;
  cursor: pointer;
}
button:hover {
  color: var(--heather);
}
button.over,
button.over .mono {
  color: var(--rust);
}
.state {
  margin-left: auto;
  font-size: 0.88rem;
}
</style>
