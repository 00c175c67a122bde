<script setup lang="ts">
/** Walks played: a strip chart under the sheet tied to the walker on it, handovers, drops, what would mend them. */
import { useIntervalFn } from '@vueuse/core'
import { computed, onBeforeUnmount, watch } from 'vue'
import { walkStrip } from '@/air/walkStrip'
import InkChart from '@/ink/InkChart.vue'
import { put, remove, type Band, type Operation } from '@/job/types'
import { useAssessment } from '@/job/useAssessment'
import { useJob } from '@/job/useJob'
import { useLibrary } from '@/job/useLibrary'
import { useAirView } from '@/air/useAirView'
import { useView } from '@/job/useView'
import { useUnits } from '@/units/useUnits'

const job = useJob()
const view = useView()
const airView = useAirView()
const library = useLibrary()
const assessment = useAssessment()
const units = useUnits()
const BANDS: readonly Band[] = ['2.4', '5', '6']
const walks = computed(() => job.of('walk'))
const played = computed(
  () => assessment.found?.walks.find((w) => w.walk_id === airView.walk) ?? assessment.found?.walks[0],
)
const walk = computed(() => walks.value.find((w) => w.id === played.value?.walk_id))
const here = computed(() => played.value?.samples[airView.walkStep])
const TICK_MS = 60
const {
  isActive: playing,
  pause,
  resume,
} = useIntervalFn(
  () => {
    if (airView.walkStep < (played.value?.samples.length ?? 1) - 1) airView.walkStep += 1
    else pause()
  },
  TICK_MS,
  { immediate: false },
)

const strip = () => (played.value ? walkStrip(played.value, hover) : null)
function hover(step: number): void {
  if (!playing.value) airView.walkStep = step
}
function play(): void {
  if (playing.value) return pause()
  if (airView.walkStep >= (played.value?.samples.length ?? 1) - 1) airView.walkStep = 0
  resume()
}
function choose(event: Event): void {
  airView.walk = (event.target as HTMLSelectElement).value
  airView.walkStep = 0
}
function change(changes: object): void {
  if (walk.value) job.edit(`Change ${walk.value.label}`, [put({ ...walk.value, ...changes })])
}
function goTo(at_s: number): void {
  airView.walkStep = Math.max(0, played.value?.samples.findIndex((s) => s.at_s >= at_s) ?? 0)
}
watch(
  () => [airView.walkStep, here.value?.storey_id] as const,
  ([, storey]) => {
    if (storey && airView.walk) view.chosenStorey = storey
  },
)
watch(
  played,
  (now) => {
    airView.walk = now?.walk_id ?? null
  },
  { immediate: true },
)
onBeforeUnmount(() => {
  airView.walk = null
})
</script>

<template>
  <section class="panel walks" aria-label="Walks">
    <p v-if="!played" class="quiet hint">
      Press <kbd>P</kbd> and draw the way somebody walks with a phone in hand; change the storey on the stair and go on.
      Enter ends it.
    </p>
    <template v-else>
      <div class="bar">
        <select class="field" aria-label="Walk" :value="played.walk_id" @change="choose">
          <option v-for="w in walks" :key="w.id" :value="w.id">{{ w.label }}</option>
        </select>
        <select
          v-if="walk"
          class="field"
          aria-label="Client"
          :value="walk.client_class"
          @change="change({ client_class: ($event.target as HTMLSelectElement).value })"
        >
          <option v-for="(c, id) in library.shelves?.clients" :key="id" :value="id">{{ c.label }}</option>
        </select>
        <select
          v-if="walk"
          class="field"
          aria-label="Band of the walk"
          :value="walk.band"
          @change="change({ band: ($event.target as HTMLSelectElement).value })"
        >
          <option v-for="b in BANDS" :key="b" :value="b">{{ b }} GHz</option>
        </select>
        <button type="button" class="ink-button primary" @click="play">{{ playing ? 'Pause' : 'Play' }}</button>
        <input
          v-model.number="airView.walkStep"
          type="range"
          min="0"
          :max="played.samples.length - 1"
          aria-label="Along the walk"
        />
        <span class="mono" role="status">{{
          here
            ? `${here.at_s.toFixed(1)} s · ${here.used ?? 'no point'} · ${here.used_dbm < -140 ? 'nothing' : units.quantity(here.used_dbm, 'dBm', 0)}`
            : ''
        }}</span>
        <button
          v-if="walk"
          type="button"
          class="ink-button"
          :aria-label="`Remove ${walk.label}`"
          @click="job.edit(`Remove ${walk.label}`, [remove(walk.id)])"
        >
          Remove
        </button>
      </div>
      <div class="strip"><InkChart :config="strip" :label="`Signal along ${played.label}`" /></div>
      <div class="lists">
        <p>
          <span class="mono">{{ units.quantity(played.length_m, 'm', 0) }}</span> in
          <span class="mono">{{ played.duration_s.toFixed(0) }} s</span>, under
          {{ units.quantity(played.need_dbm, 'dBm', 0) }} on
          <span class="mono" :class="played.under_need_share > 0.05 ? 'advice' : 'holds'"
            >{{ (played.under_need_share * 100).toFixed(0) }} %</span
          >
          of it.
        </p>
        <ul aria-label="Handovers, drops and sticky stretches">
          <li v-for="(h, i) in played.handovers" :key="`h${i}`">
            <button type="button" class="bare" @click="goTo(h.at_s)">
              <span class="mono">{{ h.at_s.toFixed(0) }} s</span> {{ h.left ?? 'nothing' }} → {{ h.joined }},
              <span class="mono">{{ h.gap_ms }} ms</span>
            </button>
            <span class="quiet">{{ units.sentence(h.why) }}</span>
          </li>
          <li
            v-for="(d, i) in [...played.drops, ...played.sticky]"
            :key="`d${i}`"
            :class="d.what === 'drop' ? 'fault' : 'advice'"
          >
            <button type="button" class="bare" @click="goTo(d.from_s)">
              ▲ <span class="mono">{{ d.from_s.toFixed(0) }}–{{ d.to_s.toFixed(0) }} s</span>
              {{ units.sentence(d.text) }}
            </button>
            <button
              v-for="fix in d.fixes"
              :key="fix.label"
              type="button"
              class="ink-button"
              @click="job.edit(fix.label, fix.operations as Operation[])"
            >
              {{ fix.label }}
            </button>
          </li>
        </ul>
      </div>
    </template>
  </section>
</template>

<style scoped>
.walks {
  display: grid;
  grid-template: auto minmax(0, 1fr) / minmax(0, 1fr) minmax(220px, 34%);
  height: 100%;
  min-height: 190px;
}
.hint {
  margin: 10px 12px;
  grid-column: 1 / -1;
}
.bar {
  grid-column: 1 / -1;
  display: flex;
  gap: 8px;
  align-items: center;
  padding: 5px 12px;
  flex-wrap: wrap;
  font-size: 0.92rem;
}
.bar input[type='range'] {
  accent-color: var(--heather);
  flex: 1;
  min-width: 90px;
}
.strip {
  position: relative;
  min-height: 140px;
  padding: 0 6px 4px 12px;
}
.lists {
  overflow: auto;
  padding: 0 12px 6px;
  font-size: 0.9rem;
  border-left: 1px solid var(--rule);
}
.lists p {
  margin: 2px 0 4px;
}
ul {
  margin: 0;
  padding: 0;
  list-style: none;
  display: grid;
  gap: 3px;
}
li button.bare {
  text-align: left;
}
</style>
