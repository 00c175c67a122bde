<script setup lang="ts">
/** The radio plan of the whole job: what would change and why, and how good the channels are. */
import { computed } from 'vue'
import StudyBar from '@/air/StudyBar.vue'
import { foundOf, useStudies } from '@/air/useStudies'
import type { Operation } from '@/job/types'
import { useAssessment } from '@/job/useAssessment'
import { useJob } from '@/job/useJob'
import { useSelection } from '@/job/useSelection'
import { useUnits } from '@/units/useUnits'

const job = useJob()
const units = useUnits()
const selection = useSelection()
const studies = useStudies()
const assessment = useAssessment()
const proposal = computed(() => foundOf(studies.all.get('radios'), 'radios')[0]?.proposal)
const bands = computed(() => assessment.found?.bands ?? [])
function after(band: string) {
  return proposal.value?.after.find((b) => b.band === band)
}
function settings(radio: { on: boolean; power_dbm: number; width_mhz?: number | null }): string {
  return radio.on ? `${radio.power_dbm} dBm${radio.width_mhz ? `, ${radio.width_mhz} MHz` : ''}` : 'off'
}
function use(): void {
  if (proposal.value) job.edit('Set the radio plan', proposal.value.operations as Operation[])
}
</script>

<template>
  <section class="panel" aria-label="Radio plan">
    <StudyBar kind="radios" start="Plan the radios" @begin="studies.begin({ study: 'radios' })">
      <span class="quiet"
        >Power by what clients can answer, width by channel supply, 2.4 GHz off where it is only noise. Locked radios
        stay.</span
      >
    </StudyBar>
    <div class="two">
      <table class="plain-table" aria-label="How good the channels are">
        <thead>
          <tr>
            <th>GHz</th>
            <th>Radios</th>
            <th>Overlap</th>
            <th>Greedy</th>
            <th>Bound</th>
            <th>With the plan</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="band in bands" :key="band.band">
            <th scope="row" class="mono">{{ band.band }}</th>
            <td class="mono">{{ band.radios }}</td>
            <td class="mono">{{ band.overlap.toFixed(2) }}</td>
            <td class="mono">{{ band.greedy.toFixed(2) }}</td>
            <td class="mono">{{ band.proven ? 'proven best' : band.bound.toFixed(2) }}</td>
            <td class="mono">
              {{
                after(band.band) ? `${after(band.band)?.overlap.toFixed(2)} of ${after(band.band)?.radios} radios` : '–'
              }}
            </td>
          </tr>
        </tbody>
      </table>
      <div v-if="proposal">
        <p v-if="!proposal.changes.length" class="holds hint">✓ Every radio already stands as the plan would set it.</p>
        <template v-else>
          <table class="plain-table" aria-label="Changes">
            <thead>
              <tr>
                <th>Radio</th>
                <th>Now</th>
                <th>Then</th>
                <th>Why</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="change in proposal.changes" :key="change.point_id + change.band">
                <th scope="row">
                  <button type="button" class="bare" @click="selection.select(change.point_id)">
                    {{ change.label }}, {{ change.band }}
                  </button>
                </th>
                <td class="mono">{{ settings(change.before) }}</td>
                <td class="mono">{{ settings(change.after) }}</td>
                <td class="why">{{ units.sentence(change.why) }}</td>
              </tr>
            </tbody>
          </table>
          <p class="hint">
            <button type="button" class="ink-button primary" @click="use">
              Make these {{ proposal.changes.length }} changes
            </button>
          </p>
        </template>
      </div>
    </div>
  </section>
</template>

<style scoped>
.two {
  display: grid;
  gap: 10px;
  justify-items: start;
  padding: 0 0 8px;
}
.hint {
  margin: 6px 0;
}
.plain-table .why {
  white-space: normal;
}
</style>
