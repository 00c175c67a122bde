<script setup lang="ts">
/** The board: every task with its day, by day, room, trade or person; the longest chain; what is held by a person. */
import { computed, ref } from 'vue'
import { vDraft } from '@/ink/draft'
import { useJob } from '@/job/useJob'
import { useSelection } from '@/job/useSelection'
import SumNumber from '@/ledger/SumNumber.vue'
import TaskPart from '@/fit/TaskPart.vue'
import BySign from '@/prove/BySign.vue'
import { useFitPlan, type Done } from '@/fit/useFitPlan'
import { useUnits } from '@/units/useUnits'

const units = useUnits()
const selection = useSelection()
const job = useJob()
const plan = useFitPlan()
const { found, said, rows } = plan
type By = 'day' | 'room' | 'trade' | 'person'
const by = ref<By>('day')
const opened = ref('')
const onlyCritical = ref(false)
const onlyLeft = ref(false)
/** Tests are done by their records, not by a tick. */
const toTick = (some: readonly Done[]): number =>
  some.filter((row) => !row.task.records.includes('test') && !plan.isDone(row.task.key)).length
const doneOf = (some: readonly Done[]): number => some.filter((row) => plan.isDone(row.task.key)).length
const NAMES: Readonly<Record<By, string>> = { day: 'Day', room: 'Room', trade: 'Trade', person: 'Person' }
function groupsOf({ task, when }: Done): readonly string[] {
  if (by.value === 'day') return [dayName(when.on)]
  if (by.value === 'trade') return [task.trade]
  if (by.value === 'person') return when.who
  return [[task.space, task.storey].filter(Boolean).join(', ') || 'the whole job']
}
const days = new Intl.DateTimeFormat(undefined, { weekday: 'short', day: 'numeric', month: 'short', timeZone: 'UTC' })
function dayName(on: string): string {
  return days.format(new Date(`${on}T00:00:00Z`))
}
function clock(hours: number): string {
  const minutes = Math.round(hours * 60)
  return `${String(Math.floor(minutes / 60)).padStart(2, '0')}:${String(minutes % 60).padStart(2, '0')}`
}
const groups = computed(() => {
  const sorted = [...rows.value].sort((a, b) => a.when.day - b.when.day || a.when.from_h - b.when.from_h)
  const into = new Map<string, Done[]>()
  for (const row of sorted) {
    if (onlyCritical.value && !row.when.critical) continue
    if (onlyLeft.value && plan.isDone(row.task.key)) continue
    for (const name of groupsOf(row)) into.set(name, [...(into.get(name) ?? []), row])
  }
  return [...into].map(([name, some]) => ({ name, some, hours: some.reduce((sum, one) => sum + one.task.hours, 0) }))
})
const late = computed(() => rows.value.filter((row) => row.when.late).length)
function open(row: Done): void {
  opened.value = opened.value === row.task.key ? '' : row.task.key
  const [first] = row.task.subjects
  if (first) selection.select(first)
}
function crew(event: Event): void {
  const names = (event.target as HTMLInputElement).value
    .split(',')
    .map((name) => name.trim())
    .filter(Boolean)
  plan.change('Name the crew', { crew: [...new Set(names)] })
}
</script>

<template>
  <section class="panel" aria-label="Board">
    <p v-if="said" class="fault lead" role="alert">▲ {{ said }}</p>
    <p v-if="found && !rows.length" class="quiet lead">
      Place points and run cables; what is to be done, and in which order, stands here.
    </p>
    <template v-if="found && rows.length">
      <p class="lead head">
        <span role="group" aria-label="Put together by">
          <button
            v-for="(name, key) in NAMES"
            :key="key"
            type="button"
            class="ink-button"
            :aria-pressed="by === key"
            @click="by = key"
          >
            {{ name }}
          </button>
        </span>
        <span>
          {{ dayName(found.begins) }} to {{ dayName(found.ends) }}, <strong>{{ found.days }}</strong> working days; the
          longest chain takes
          <SumNumber :sum="found.critical_sum" :digits="1" />
        </span>
        <a class="ink-button primary" :href="`/field/${job.id}`" target="_blank">Take it along (phone)</a>
        <span
          ><strong>{{ rows.filter((row) => plan.isDone(row.task.key)).length }}</strong> of {{ rows.length }} done</span
        >
        <BySign />
        <label><input v-model="onlyLeft" type="checkbox" /> only what is left</label>
        <label><input v-model="onlyCritical" type="checkbox" /> only what delays the end</label>
        <label
          >Crew
          <input
            v-draft="plan.fitting.value.crew.join(', ')"
            class="field"
            :placeholder="found.crew.join(', ')"
            aria-label="Names of the crew"
            @change="crew"
        /></label>
        <span v-if="found.astray.length" class="warning"
          >▲ {{ found.astray.length }} held tasks are no more: what they were about is gone or lies elsewhere.
          <button type="button" class="ink-button" @click="plan.letGo(found.astray)">Let them go</button></span
        >
        <span v-if="late" class="warning">▲ {{ late }} cannot be done on the day they are held on.</span>
      </p>
      <details v-for="group in groups" :key="group.name" :open="groups.length < 4 || by === 'day'" class="group">
        <summary>
          <strong>{{ group.name }}</strong>
          <span class="quiet"
            >{{ group.some.length }} tasks, {{ units.quantity(group.hours, 'h', 1) }},
            {{ doneOf(group.some) }} done</span
          >
        </summary>
        <p v-if="toTick(group.some)" class="all">
          <button
            type="button"
            class="ink-button"
            @click="
              plan.tick(
                group.some.map((row) => row.task),
                true,
              )
            "
          >
            All of {{ group.name }} is done
          </button>
          <span class="quiet">tests are done by their records, in stage 10</span>
        </p>
        <ul>
          <li v-for="row in group.some" :key="row.task.key" :class="{ chosen: opened === row.task.key }">
            <button type="button" class="bare row" :aria-expanded="opened === row.task.key" @click="open(row)">
              <span class="mono when"
                >{{ by === 'day' ? '' : `${dayName(row.when.on)} ` }}{{ clock(row.when.from_h) }}</span
              >
              <span class="what">{{ row.task.label }}</span>
              <span class="quiet where">{{ row.task.space || row.task.storey }}</span>
              <span class="mono">{{ row.task.hours ? units.quantity(row.task.hours, 'h', 1) : '' }}</span>
              <span class="marks">
                <span v-if="plan.isDone(row.task.key)" class="holds">✓ done</span>
                <span v-if="row.when.critical" class="warning">▲ delays the end</span>
                <span v-if="row.task.loud" class="quiet">loud</span>
                <span v-if="row.task.outdoors" class="quiet">dry weather</span>
                <span v-if="row.when.held" class="quiet">held</span>
                <span v-if="row.when.late" class="fault">▲ too early</span>
              </span>
              <span class="quiet who">{{ row.when.who.join(', ') }}</span>
            </button>
            <TaskPart
              v-if="opened === row.task.key"
              :task="row.task"
              :when="row.when"
              :cautions="found.cautions"
              :crew="found.crew"
              :held="plan.heldOf(row.task.key)"
              :done="plan.isDone(row.task.key)"
              :written="plan.writtenAt(row.task.key)"
              @tick="(done) => plan.tick([row.task], done)"
              @hold="(on, who) => plan.hold(row.task, on, who)"
            />
          </li>
        </ul>
      </details>
    </template>
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
.group {
  padding: 0 12px 4px;
}
summary {
  cursor: pointer;
  padding: 3px 0;
}
summary .quiet {
  margin-left: 8px;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  border-top: 1px solid var(--rule);
}
.row {
  display: grid;
  grid-template-columns: max-content minmax(10rem, 1.4fr) minmax(7rem, 1fr) 3.6rem minmax(7rem, 1fr) minmax(6rem, 1fr);
  gap: 8px;
  width: 100%;
  text-align: left;
  padding: 3px 0;
  min-height: 26px;
  font-size: 0.9rem;
}
.when {
  min-width: 6rem;
  white-space: nowrap;
}
.all {
  margin: 2px 0 4px;
  display: flex;
  gap: 8px;
  align-items: center;
}
.marks {
  display: flex;
  flex-wrap: wrap;
  gap: 0 8px;
}
.chosen {
  background: var(--heather-tint);
}
</style>
