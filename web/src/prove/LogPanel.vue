<script setup lang="ts">
/** The logbook of the years after: visits, faults, changes, replacements, dates that come up. */
import { computed, reactive } from 'vue'
import { useSelection } from '@/job/useSelection'
import BySign from '@/prove/BySign.vue'
import { useProven } from '@/prove/useProven'

const proven = useProven()
const selection = useSelection()
const ENTRIES = ['visit', 'fault', 'change', 'replacement', 'firmware', 'renewal', 'warranty'] as const
const typed = reactive({ entry: 'visit' as (typeof ENTRIES)[number], text: '', due: '' })
const lines = computed(() => proven.found?.log ?? [])
const times = new Intl.DateTimeFormat(undefined, { dateStyle: 'medium' })
const today = new Date().toISOString().slice(0, 10)
async function add(): Promise<void> {
  if (!typed.text.trim()) return
  const measured = { measured: 'log' as const, entry: typed.entry, due: typed.due || null }
  const subject = selection.element?.id ?? 'job'
  if (await proven.write({ kind: 'measured', subject, text: typed.text, measured })) typed.text = typed.due = ''
}
</script>

<template>
  <section class="panel" aria-label="Logbook">
    <form class="lead head" @submit.prevent="add">
      <label
        >Kind
        <select v-model="typed.entry" class="field">
          <option v-for="one in ENTRIES" :key="one" :value="one">{{ one }}</option>
        </select></label
      >
      <label class="words"
        ><span>of {{ selection.element?.label ?? 'the whole job' }}</span>
        <input
          v-model="typed.text"
          class="field"
          maxlength="2000"
          placeholder="what was done"
          aria-label="What was done"
      /></label>
      <label>comes up on <input v-model="typed.due" class="field" type="date" /></label>
      <button type="submit" class="ink-button primary" :disabled="!typed.text.trim()">Write it down</button>
      <BySign />
    </form>
    <p v-if="!lines.length" class="quiet lead">
      After the hand-over every visit, fault, change and replacement is written down here; warranties and renewals with
      the day they come up.
    </p>
    <table v-else class="plain-table">
      <thead>
        <tr>
          <th>Day</th>
          <th>Kind</th>
          <th>Of</th>
          <th>What</th>
          <th>By</th>
          <th>Comes up</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="one in lines" :key="one.record_id">
          <td>{{ times.format(new Date(one.at)) }}</td>
          <td>{{ one.entry }}</td>
          <th scope="row">{{ one.label }}</th>
          <td class="words">{{ one.text }}</td>
          <td>{{ one.by }}</td>
          <td :class="{ warning: one.due && one.due <= today }">
            <span v-if="one.due && one.due <= today" aria-hidden="true">▲ </span>{{ one.due }}
          </td>
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
.words {
  display: flex;
  gap: 6px;
  align-items: center;
  flex: 1;
  min-width: 18rem;
}
.words .field {
  flex: 1;
}
.plain-table {
  width: 100%;
}
</style>
