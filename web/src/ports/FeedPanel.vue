<script setup lang="ts">
/** Power along one run, drawn from the port to the device: what it passes, what it loses, what arrives. */
import { computed, ref } from 'vue'
import { api, take } from '@/api/client'
import { useAsked } from '@/job/useAsked'
import { useAssessment } from '@/job/useAssessment'
import { useJob } from '@/job/useJob'
import { useSelection } from '@/job/useSelection'
import SumNumber from '@/ledger/SumNumber.vue'
import { useUnits } from '@/units/useUnits'

const job = useJob()
const units = useUnits()
const selection = useSelection()
const assessment = useAssessment()
const picked = ref('')
const feeds = computed(() => assessment.found?.feeds ?? [])
const run = computed(() => {
  const known = (id: string | null | undefined) => feeds.value.some((one) => one.run_id === id)
  if (known(selection.selected)) return selection.selected
  return known(picked.value) ? picked.value : (feeds.value.find((one) => !one.holds) ?? feeds.value[0])?.run_id
})
const { found, said, busy } = useAsked(() => {
  if (!run.value) return null
  const params = { path: { job_id: job.id }, query: { run: run.value } }
  return take(api.GET('/api/jobs/{job_id}/ports/feed', { params }))
}, [run])
const plugged = useAsked(() =>
  take(api.GET('/api/jobs/{job_id}/ports/outlets', { params: { path: { job_id: job.id } } })),
)
const outlets = computed(() => plugged.found.value?.things ?? [])
const minded = computed(() => outlets.value.some((one) => one.caution))
function pick(event: Event): void {
  picked.value = (event.target as HTMLSelectElement).value
  selection.select(picked.value)
}
</script>

<template>
  <section class="panel" aria-label="A feed" :aria-busy="busy">
    <p v-if="said" class="fault lead" role="alert">▲ {{ said }}</p>
    <p v-if="!feeds.length" class="quiet lead">
      Run a cable to something that is fed over it: its power stands here from the port to the device.
    </p>
    <template v-else>
      <p class="head">
        <label>
          Run
          <select class="field" :value="run" @change="pick">
            <option v-for="one in feeds" :key="one.run_id" :value="one.run_id">
              {{ one.holds ? '' : '▲ ' }}{{ one.label }}
            </option>
          </select>
        </label>
        <span v-if="found" :class="found.holds ? 'holds' : 'fault'">
          {{
            found.holds
              ? `✓ ${found.to_label} is fed at full load on the hottest day.`
              : `▲ ${found.to_label} is not fed at full load.`
          }}
        </span>
        <span v-if="found?.gives_up" class="advice">◇ It runs with less: {{ found.gives_up }}.</span>
      </p>
      <ol v-if="found">
        <li v-for="(step, n) in found.steps" :key="n" :class="[step.kind, { bad: !step.holds }]">
          <div class="thing">
            <b>{{ step.label }}</b>
            <span class="quiet">{{ step.says }}</span>
            <span v-if="step.outlet" class="outlet">Wants a mains outlet beside it</span>
          </div>
          <dl v-if="step.figures.length">
            <div v-for="figure in step.figures" :key="figure.label">
              <dt>{{ figure.label }}</dt>
              <dd><SumNumber :sum="figure" /></dd>
            </div>
          </dl>
          <p v-if="step.caution" class="caution"><b>Mind:</b> {{ step.caution }}</p>
        </li>
      </ol>
    </template>
    <section v-if="plugged.found.value && outlets.length" class="mains" aria-label="From the mains">
      <h3>
        From the mains
        <span class="quiet"
          >{{ outlets.length }} outlets, <SumNumber :sum="plugged.found.value.most" :digits="0" /> at the most; outlets
          and circuits are for a licensed electrician</span
        >
      </h3>
      <table class="plain-table">
        <thead>
          <tr>
            <th>Thing</th>
            <th>Where</th>
            <th class="number">At most</th>
            <th class="number">Usually</th>
            <th v-if="minded">Mind</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="one in outlets" :key="one.element_id">
            <th scope="row">
              <button type="button" class="bare" @click="selection.select(one.element_id)">{{ one.label }}</button>
              <span class="quiet">{{ one.what }}</span>
            </th>
            <td>{{ one.where }}</td>
            <td class="mono number">{{ units.quantity(one.most_w, 'W', 0) }}</td>
            <td class="mono number">{{ units.quantity(one.usual_w, 'W', 0) }}</td>
            <td v-if="minded" class="words">{{ one.caution }}</td>
          </tr>
        </tbody>
      </table>
    </section>
  </section>
</template>

<style scoped>
.panel {
  overflow: auto;
}
.head label {
  white-space: nowrap;
}
ol {
  list-style: none;
  display: flex;
  align-items: flex-start;
  margin: 6px 12px;
  padding: 0;
}
li {
  display: flex;
  flex-direction: column;
  gap: 4px;
  min-width: 0;
}
li:not(.cable) {
  border: 1px solid var(--ink);
  padding: 8px 10px;
  background: var(--paper);
  width: 210px;
}
li.bad:not(.cable) {
  border: 2px solid var(--rust);
}
/* A cable is a stroke between two boxes, its figures along it. */
li.cable {
  flex: 1;
  max-width: 340px;
  padding: 0 14px;
  position: relative;
}
li.cable .thing {
  border-bottom: 2px dashed var(--tarn);
  padding-bottom: 4px;
}
li.cable.bad .thing {
  border-bottom-color: var(--rust);
}
.thing {
  display: flex;
  flex-direction: column;
  line-height: 1.25;
}
.thing .quiet,
.outlet {
  font-size: 0.88rem;
}
dl {
  margin: 2px 0 0;
  font-size: 0.9rem;
}
dl div {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 10px;
  min-height: 25px;
}
dt {
  color: var(--ink-quiet);
}
dd {
  margin: 0;
}
.mains {
  margin: 10px 12px;
}
.mains h3 {
  margin: 0 0 4px;
  font-size: 1rem;
}
.mains .quiet {
  font-weight: 400;
  font-size: 0.88rem;
}
.mains .number {
  text-align: right;
}
.caution {
  margin: 2px 0 0;
  font-size: 0.88rem;
  line-height: 1.3;
  border-left: 3px solid var(--gorse);
  padding-left: 6px;
}
</style>
