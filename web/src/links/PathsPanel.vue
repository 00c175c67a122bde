<script setup lang="ts">
/** Every bridge: what it carries, its path cut open, how both ends are fitted, and the path as somebody measured it. */
import { useLocalStorage } from '@vueuse/core'
import { computed } from 'vue'
import type { BridgePlan } from '@/api/schema'
import { api, take } from '@/api/client'
import { useGuarded } from '@/api/useGuarded'
import { useAssessment } from '@/job/useAssessment'
import { useJob } from '@/job/useJob'
import type { Operation } from '@/job/types'
import { useSelection } from '@/job/useSelection'
import { useView } from '@/job/useView'
import PathProfile from '@/links/PathProfile.vue'
import { useUnits } from '@/units/useUnits'

const job = useJob()
const view = useView()
const units = useUnits()
const selection = useSelection()
const assessment = useAssessment()
const { said, busy, guarded } = useGuarded()
const bridges = computed(() => assessment.found?.bridges ?? [])
/** What is typed of a path, by its link, until it is taken: kept when the page is left or loaded anew. */
const typed = useLocalStorage<Record<string, string>>('heathrise.paths', {})

function lines(bridge: BridgePlan): string {
  const draft = typed.value[bridge.link_id]
  if (draft !== undefined) return draft
  const link = job.elements.get(bridge.link_id)
  const profile = link?.kind === 'link' ? link.profile : []
  return profile.map((p) => `${p.distance_m}; ${p.ground_m ?? 0}; ${p.obstacle_m ?? 0}`).join('\n')
}
async function takeProfile(bridge: BridgePlan): Promise<void> {
  const params = { path: { job_id: job.id } }
  const body = { link: bridge.link_id, text: lines(bridge) }
  await guarded(async () => {
    await job.mustBeSaved()
    const answer = await take(api.POST('/api/jobs/{job_id}/links/profile', { params, body }))
    job.edit(`Path of ${bridge.label}`, answer.operations as Operation[])
    // What was typed on meanwhile stays.
    if (typed.value[bridge.link_id] === body.text)
      typed.value = Object.fromEntries(Object.entries(typed.value).filter(([id]) => id !== bridge.link_id))
  })
}
</script>

<template>
  <section class="panel" aria-label="Paths">
    <p v-if="!bridges.length" class="quiet lead">
      No bridge looks through the air yet. Compare the ways to an outbuilding, and use a bridge where it serves; its
      path is drawn here.
    </p>
    <article v-for="bridge in bridges" :key="bridge.link_id" :aria-label="bridge.label">
      <p class="head">
        <button type="button" class="bare name" @click="selection.select(bridge.ends[0].unit_id)">
          <span :class="bridge.holds ? 'holds' : 'fault'" aria-hidden="true">{{ bridge.holds ? '✓' : '▲' }}</span>
          {{ bridge.label }}
        </button>
        <button
          v-if="bridge.throughput"
          type="button"
          class="bare sum-link mono"
          @click="view.openSum = bridge.throughput"
        >
          {{ units.quantity(bridge.mbps, 'Mb/s', 0) }}
        </button>
        <button
          v-for="check in bridge.checks"
          :key="check.label"
          type="button"
          class="bare sum-link"
          :class="{ fault: !check.holds }"
          @click="view.openSum = check"
        >
          {{ check.label }} {{ units.quantity(check.value, check.unit) }}
        </button>
        <span v-if="bridge.channel" class="quiet">channel {{ bridge.channel }}, which no access point uses</span>
      </p>
      <p v-if="bridge.why_not" class="fault">▲ {{ bridge.why_not }}</p>
      <PathProfile :bridge="bridge" />
      <table class="plain-table">
        <thead>
          <tr>
            <th>End</th>
            <th class="number">Antenna over ground</th>
            <th class="number">Looks, from north</th>
            <th class="number">Tilt</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="end in bridge.ends" :key="end.unit_id">
            <th scope="row">
              <button type="button" class="bare" @click="selection.select(end.unit_id)">{{ end.label }}</button>
            </th>
            <td class="mono">{{ units.quantity(end.height_m, 'm', 1) }}</td>
            <td class="mono">{{ end.bearing_deg.toFixed(1) }}°</td>
            <td class="mono">{{ end.tilt_deg.toFixed(2) }}°</td>
          </tr>
        </tbody>
      </table>
      <details>
        <summary>The path as measured</summary>
        <label>
          A line a place: distance; ground; what stands there, in metres. Empty takes what the drawing knows.
          <textarea
            class="field mono"
            rows="4"
            :value="lines(bridge)"
            @input="typed[bridge.link_id] = ($event.target as HTMLTextAreaElement).value"
          ></textarea>
        </label>
        <p v-if="said" class="fault" role="alert">▲ {{ said }}</p>
        <button type="button" class="ink-button" :disabled="busy" @click="takeProfile(bridge)">Take this path</button>
      </details>
    </article>
    <p v-if="bridges.length" class="advice lead">
      ◇ Height: ladders, roofs and masts need training and a second person, and nobody near overhead lines or in a
      storm. Trees in leaf take more than bare ones: look along the path in summer.
    </p>
  </section>
</template>

<style scoped>
.lead,
article {
  margin: 6px 12px 10px;
}
.head {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 14px;
  align-items: baseline;
  margin: 0 0 4px;
}
.name {
  font-weight: 700;
  min-height: 24px;
}
details {
  margin: 6px 0;
}
summary {
  cursor: pointer;
  color: var(--ink-quiet);
}
label {
  display: block;
  font-size: 0.9rem;
}
textarea {
  display: block;
  width: 100%;
  max-width: 32rem;
  margin: 4px 0;
}
</style>
