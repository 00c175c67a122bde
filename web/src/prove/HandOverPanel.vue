<script setup lang="ts">
/** Handing over: what stands in the way, who signs, the set being made, editions that are frozen, what is otherwise since. */
import { computed, reactive } from 'vue'
import { put } from '@/job/types'
import { useMake } from '@/job/make'
import { useJob } from '@/job/useJob'
import { useView } from '@/job/useView'
import type { OpenFinding } from '@/api/schema'
import EditionPart from '@/prove/EditionPart.vue'
import { useHandOver } from '@/prove/useHandOver'
import { useProven } from '@/prove/useProven'
import { useUnits } from '@/units/useUnits'

const job = useJob()
const view = useView()
const make = useMake()
const units = useUnits()
const proven = useProven()
const hand = useHandOver()
const ready = computed(() => proven.found?.ready)
const open = computed(() => (ready.value?.gates ?? []).filter((gate) => !gate.holds))
const reasons = reactive<Record<string, string>>({})
const signing = reactive({ signed_by: '', client: '', call: '', note: '' })
const waived = reactive<Record<string, string>>({})
const missing = computed(() => open.value.filter((gate) => (waived[gate.code] ?? '').trim().length < 3))
const stands = computed(
  () => (ready.value?.findings.length ?? 0) + (ready.value?.faults.length ?? 0) + missing.value.length,
)
const signable = computed(() => !stands.value && signing.signed_by.trim() !== '' && signing.client.trim() !== '')
function accept(one: OpenFinding): void {
  const reason = (reasons[one.key] ?? '').trim()
  if (reason.length < 3) return
  job.edit(`Accept: ${one.title}`.slice(0, 120), [
    put(make('acceptance', { label: one.title.slice(0, 80), finding_key: one.key, reason })),
  ])
}
function begin(): void {
  const kept = Object.fromEntries(open.value.map((gate) => [gate.code, waived[gate.code] ?? '']))
  void hand.begin({ ...signing, firm: '', waived: kept })
}
</script>

<template>
  <section class="panel" aria-label="Hand over">
    <p v-if="hand.said.value" class="fault lead" role="alert">▲ {{ hand.said.value }}</p>
    <div v-if="ready" class="beside">
      <div>
        <h3>What is proven</h3>
        <table class="plain-table">
          <tbody>
            <tr v-for="gate in ready.gates" :key="gate.code">
              <th scope="row">{{ gate.label }}</th>
              <td class="mono">{{ gate.done }} of {{ gate.of }}</td>
              <td>
                <span v-if="gate.holds" class="holds">✓ all</span>
                <input
                  v-else
                  v-model="waived[gate.code]"
                  class="field"
                  maxlength="500"
                  placeholder="why all the same"
                  :aria-label="`${gate.label}: signed although not all, because`"
                />
              </td>
            </tr>
          </tbody>
        </table>
        <template v-if="ready.findings.length">
          <h3>Faults nobody has accepted</h3>
          <ul>
            <li v-for="one in ready.findings" :key="one.key">
              <p>
                <strong class="fault">▲ {{ one.title }}.</strong> {{ units.sentence(one.text) }}
                <span class="quiet">{{ units.sentence(one.advice) }}</span>
              </p>
              <p class="do">
                <input
                  v-model="reasons[one.key]"
                  class="field"
                  maxlength="500"
                  placeholder="why it is lived with"
                  :aria-label="`Why ${one.title} is lived with`"
                />
                <button
                  type="button"
                  class="ink-button"
                  :disabled="(reasons[one.key] ?? '').trim().length < 3"
                  @click="accept(one)"
                >
                  Accept it
                </button>
              </p>
            </li>
          </ul>
        </template>
        <p v-if="ready.faults.length" class="fault">
          ▲ {{ ready.faults.length }} on the list of faults are open.
          <button type="button" class="ink-button" @click="view.panel = 'Faults'">Faults</button>
        </p>
      </div>
      <div>
        <h3>Sign</h3>
        <form class="sign" @submit.prevent="begin">
          <label>Handed over by <input v-model.trim="signing.signed_by" class="field" maxlength="80" /></label>
          <label>to <input v-model.trim="signing.client" class="field" maxlength="80" aria-label="To whom" /></label>
          <label
            >Whom to call <input v-model.trim="signing.call" class="field" maxlength="80" placeholder="name, telephone"
          /></label>
          <label
            >Note <input v-model="signing.note" class="field" maxlength="2000" placeholder="printed on the first page"
          /></label>
          <p class="do">
            <button type="submit" class="ink-button primary" :disabled="!signable || hand.making.value">
              Make the set and sign it
            </button>
            <span v-if="stands" class="warning">▲ {{ stands }} things stand in the way</span>
            <span v-else-if="!signable" class="quiet">Name who hands over, and to whom.</span>
          </p>
        </form>
        <p v-if="hand.now.value" class="progress" role="status">
          <progress :value="hand.now.value.made" :max="hand.now.value.of" />
          {{ hand.now.value.made }} of {{ hand.now.value.of }}: {{ hand.now.value.doing }}
          <button type="button" class="ink-button" @click="hand.stop">Stop</button>
        </p>
        <h3>Handed over</h3>
        <p v-if="!hand.signed.value.length" class="quiet">
          Nothing yet. An edition is a set of papers, drawings, tables and the job itself, numbered, and stays as it is.
          Passphrases are not in it: cards for guests are printed in stage 7 and handed over apart.
        </p>
        <EditionPart v-for="one in hand.signed.value" :key="one.id" :edition="one" />
      </div>
    </div>
  </section>
</template>

<style scoped>
.panel {
  overflow: auto;
}
.beside {
  display: grid;
  grid-template-columns: 1.1fr 1fr;
  gap: 0 20px;
  padding: 0 12px 10px;
}
h3 {
  margin: 6px 0 3px;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  border-top: 1px solid var(--rule);
}
p {
  margin: 3px 0;
}
.do {
  display: flex;
  gap: 8px;
  align-items: center;
}
.do .field {
  flex: 1;
}
.sign {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 5px 14px;
}
.sign label {
  display: grid;
  gap: 1px;
}
.sign .wide,
.sign .do {
  grid-column: 1 / -1;
}
td .field {
  width: 100%;
}
.plain-table {
  width: 100%;
}
.progress {
  display: flex;
  gap: 8px;
  align-items: center;
}
progress {
  width: 8rem;
  accent-color: var(--heather);
}
</style>
