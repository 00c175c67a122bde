<script setup lang="ts">
/** Faults to be mended: where, whose, how they stand; and what was found otherwise than drawn, to be taken or left. */
import { computed, ref } from 'vue'
import type { FaultShown, FieldProposal } from '@/api/schema'
import { useJob } from '@/job/useJob'
import { useSelection } from '@/job/useSelection'
import type { Operation } from '@/job/types'
import BySign from '@/prove/BySign.vue'
import FaultPart from '@/prove/FaultPart.vue'
import { useProven } from '@/prove/useProven'
import { small } from '@/site/photograph'

const job = useJob()
const proven = useProven()
const selection = useSelection()
const text = ref('')
const owner = ref('')
const said = ref('')
const photo = ref<File | null>(null)
const faults = computed(() => proven.found?.faults ?? [])
const proposals = computed(() => proven.found?.proposals ?? [])
const open = computed(() => faults.value.filter((one) => one.state === 'open' || one.state === 'mended').length)
const about = computed(() => selection.element)
function pick(event: Event): void {
  photo.value = (event.target as HTMLInputElement).files?.[0] ?? null
}
async function add(): Promise<void> {
  said.value = ''
  if (!text.value.trim()) return
  const taken = photo.value ? await small(photo.value) : null
  if (photo.value && !taken) {
    said.value = 'The photograph is larger than this device keeps. Take it again smaller; the words are still here.'
    return
  }
  const measured = { measured: 'fault' as const, owner: owner.value, storey_id: null, at: null }
  const subject = about.value?.id ?? 'job'
  if (await proven.records.write([{ kind: 'measured', subject, text: text.value, measured }], taken ?? undefined)) {
    text.value = ''
    photo.value = null
  }
}
function show(fault: FaultShown): void {
  if (job.elements.has(fault.subject)) selection.select(fault.subject)
}
function settle(one: FieldProposal, taken: boolean): void {
  if (taken) job.edit(`Draw ${one.label} as it was found`, one.operations as Operation[])
  void proven.write({
    kind: 'measured',
    subject: one.subject,
    about: one.record_id,
    measured: { measured: 'settled', taken },
  })
}
const photoOf = (id: string): string => `/api/jobs/${job.id}/photos/${id}`
</script>

<template>
  <section class="panel" aria-label="Faults">
    <p class="lead head">
      <span
        ><strong>{{ open }}</strong> open of {{ faults.length }}</span
      >
      <BySign />
      <span v-if="said" class="fault" role="alert">▲ {{ said }}</span>
    </p>
    <form class="new" @submit.prevent="add">
      <label class="words"
        ><span>A fault at {{ about ? about.label : 'the whole job' }}</span>
        <input v-model="text" class="field" maxlength="2000" placeholder="what is wrong" aria-label="What is wrong"
      /></label>
      <label>whose <input v-model.trim="owner" class="field owner" maxlength="80" list="crew" /></label>
      <label class="ink-button file"
        ><input type="file" accept="image/*" capture="environment" aria-label="Photograph" @change="pick" />{{
          photo ? photo.name.slice(0, 18) : 'Photograph'
        }}</label
      >
      <button type="submit" class="ink-button primary" :disabled="!text.trim()">Write it down</button>
    </form>
    <p v-if="!faults.length" class="quiet lead">
      Nothing is written down. Select what is wrong on the sheet, say what it is; it stays here until somebody has
      looked at it again. An open fault holds up signing.
    </p>
    <ul v-else class="list">
      <FaultPart v-for="one in faults" :key="one.record_id" :fault="one" @show="show(one)" />
    </ul>
    <template v-if="proposals.length">
      <h3>Found otherwise than drawn</h3>
      <table class="plain-table">
        <thead>
          <tr>
            <th>What</th>
            <th>Field</th>
            <th>Drawn</th>
            <th>Found</th>
            <th>By</th>
            <th>Note</th>
            <th><span class="visually-hidden">Take or leave</span></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="one in proposals" :key="one.record_id">
            <th scope="row">{{ one.label }}</th>
            <td>{{ one.name }}</td>
            <td>{{ one.drawn || '–' }}</td>
            <td>
              <strong>{{ one.found }}</strong>
            </td>
            <td>{{ one.by }}</td>
            <td class="words">
              {{ one.text }} <a v-if="one.photo" :href="photoOf(one.photo)" target="_blank">photograph</a>
              <span v-if="one.problem" class="warning">▲ {{ one.problem }}</span>
            </td>
            <td>
              <button
                type="button"
                class="ink-button primary"
                :disabled="!one.operations.length"
                @click="settle(one, true)"
              >
                Draw it so
              </button>
              <button type="button" class="ink-button" @click="settle(one, false)">Leave it</button>
            </td>
          </tr>
        </tbody>
      </table>
    </template>
  </section>
</template>

<style scoped>
.panel {
  overflow: auto;
}
.head,
.new {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 14px;
  align-items: center;
}
.new {
  padding: 0 12px 6px;
}
.words {
  display: flex;
  gap: 6px;
  align-items: center;
  flex: 1;
  min-width: 20rem;
}
.words .field {
  flex: 1;
}
.words span {
  white-space: nowrap;
}
.owner {
  width: 7rem;
}
.file input {
  position: absolute;
  opacity: 0;
  width: 0;
}
.list {
  list-style: none;
  margin: 0;
  padding: 0 12px;
}
h3 {
  margin: 8px 12px 2px;
}
.plain-table {
  margin: 0 4px 10px;
}
.plain-table .ink-button + .ink-button {
  margin-left: 6px;
}
</style>
