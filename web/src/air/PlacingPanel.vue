<script setup lang="ts">
/** Points that place themselves: three plans side by side, each to look at, use, or keep as a variant. */
import { computed, onBeforeUnmount, ref, watch } from 'vue'
import type { Mend, Offer } from '@/api/schema'
import StudyBar from '@/air/StudyBar.vue'
import { foundOf, useStudies } from '@/air/useStudies'
import { useMake } from '@/job/make'
import { put, type Operation } from '@/job/types'
import { useJob } from '@/job/useJob'
import { useLibrary } from '@/job/useLibrary'
import { useAirView } from '@/air/useAirView'
import { useView } from '@/job/useView'
import { useUnits } from '@/units/useUnits'

const job = useJob()
const view = useView()
const airView = useAirView()
const library = useLibrary()
const studies = useStudies()
const units = useUnits()
const make = useMake()
const model = ref('ap-ceiling-wifi6-2x2')
const scope = ref<'all' | 'here'>('all')
const models = computed(() =>
  Object.entries(library.shelves?.equipment ?? {}).filter(([, m]) => m.can.includes('radiates') && !m.outdoor),
)
const currency = computed(() => job.of('practice')[0]?.currency ?? 'EUR')
/** The best offer of each aim so far. */
const offers = computed(() => {
  const by = new Map<string, Offer>()
  for (const row of foundOf(studies.all.get('placement'), 'offer')) by.set(row.placement.aim, row)
  return [...by.values()]
})
function begin(): void {
  const storey_ids = scope.value === 'here' && view.storey ? [view.storey.id] : []
  void studies.begin({ study: 'placement', model: model.value, storey_ids })
}
const mends = computed(() => foundOf(studies.all.get('mend'), 'mend'))
const nothing = computed(() => studies.all.get('mend')?.state === 'done' && !mends.value.length)
const shown = ref('')
function look(offer: Offer): void {
  shown.value = shown.value === offer.placement.aim ? '' : offer.placement.aim
}
function show(mend: Mend): void {
  shown.value = shown.value === mend.label ? '' : mend.label
}
watch([shown, offers, mends], () => {
  airView.ghosts =
    offers.value.find((o) => o.placement.aim === shown.value)?.placement.points ??
    mends.value.find((m) => m.label === shown.value)?.points ??
    null
})
onBeforeUnmount(() => {
  airView.ghosts = null
})
function use(offer: Offer): void {
  shown.value = ''
  job.edit(`Place points: ${offer.placement.label.toLowerCase()}`, offer.operations as Operation[])
}
function mendWith(mend: Mend): void {
  shown.value = ''
  job.edit(mend.label, mend.operations as Operation[])
}
function keep(offer: Offer): void {
  job.edit(`Keep ${offer.placement.label.toLowerCase()} as a variant`, [
    put(make('variant', { points: offer.placement.points }, offer.placement.label)),
  ])
}
</script>

<template>
  <section class="panel" aria-label="Placing">
    <StudyBar kind="placement" start="Place points" @begin="begin">
      <select v-model="model" class="field" aria-label="Model to place">
        <option v-for="[id, m] in models" :key="id" :value="id">{{ m.label }}</option>
      </select>
      <select v-model="scope" class="field" aria-label="Where to place">
        <option value="all">every storey</option>
        <option value="here">{{ view.storey?.label }} only</option>
      </select>
    </StudyBar>
    <p v-if="!offers.length" class="quiet hint">
      Three plans are worked out side by side: fewest points, best roaming, least cable. Pinned points stay, no-go areas
      are left out, and nothing changes on the sheet until you use one.
    </p>
    <table v-else class="plain-table">
      <thead>
        <tr>
          <th>Plan</th>
          <th>Points</th>
          <th>Meet their need</th>
          <th>Cost</th>
          <th>Cable</th>
          <th>From the bound</th>
          <th>Found by</th>
          <th><span class="visually-hidden">What to do</span></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="offer in offers" :key="offer.placement.aim" :data-aim="offer.placement.aim">
          <th scope="row">{{ offer.placement.label }}</th>
          <td class="mono">{{ offer.placement.count }}</td>
          <td class="mono" :class="offer.met === offer.spaces ? 'holds' : 'advice'">
            {{ offer.met }} / {{ offer.spaces }}
          </td>
          <td class="mono">{{ offer.placement.cost.toFixed(0) }} {{ currency }}</td>
          <td class="mono">{{ units.quantity(offer.placement.cable_m, 'm', 0) }}</td>
          <td class="mono">
            {{
              offer.placement.proven
                ? 'proven best'
                : offer.placement.bound > 0
                  ? `${(offer.placement.gap * 100).toFixed(1)} %`
                  : 'not known yet'
            }}
          </td>
          <td class="quiet">{{ offer.placement.step }}</td>
          <td class="acts">
            <button type="button" class="ink-button" :aria-pressed="shown === offer.placement.aim" @click="look(offer)">
              Show
            </button>
            <button type="button" class="ink-button" title="Keep it as a variant to compare" @click="keep(offer)">
              Keep
            </button>
            <button type="button" class="ink-button primary" @click="use(offer)">Use</button>
          </td>
        </tr>
        <tr
          v-for="unmet in offers.flatMap((o) => o.placement.unmet.map((u) => ({ ...u, plan: o.placement.label })))"
          :key="unmet.plan + unmet.space_id"
          class="quiet"
        >
          <td colspan="8" class="wrap">
            ▲ {{ unmet.plan }}: {{ unmet.label }} reaches {{ (unmet.share * 100).toFixed(0) }} %;
            {{ units.sentence(unmet.why) }}.
          </td>
        </tr>
      </tbody>
    </table>
    <StudyBar kind="mend" start="What helps most" @begin="studies.begin({ study: 'mend', model })"
      ><span class="quiet">The one move or addition that lets most spaces meet their need.</span></StudyBar
    >
    <p v-if="nothing" class="quiet hint">
      No single move or addition lets more spaces meet their need. Place points anew, or change what stands in the way.
    </p>
    <table v-if="mends.length" class="plain-table mends">
      <thead>
        <tr>
          <th>Change</th>
          <th>Meet their need</th>
          <th>Cost</th>
          <th><span class="visually-hidden">What to do</span></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="mend in mends" :key="mend.label">
          <th scope="row">{{ mend.label }}</th>
          <td class="mono">{{ mend.before }} → {{ mend.met }} / {{ mend.spaces }}</td>
          <td class="mono">{{ mend.cost.toFixed(0) }} {{ currency }}</td>
          <td class="acts">
            <button type="button" class="ink-button" :aria-pressed="shown === mend.label" @click="show(mend)">
              Show
            </button>
            <button type="button" class="ink-button primary" @click="mendWith(mend)">Do it</button>
          </td>
        </tr>
      </tbody>
    </table>
  </section>
</template>

<style scoped>
.hint {
  margin: 4px 12px 10px;
  max-width: 760px;
}
.acts {
  display: flex;
  gap: 4px;
  justify-content: flex-end;
}
.wrap {
  white-space: normal;
}
</style>
