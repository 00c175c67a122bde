<script setup lang="ts">
/** House practice: each question with its choices and reason; a choice is compared before it is taken. */
import { computed, onMounted, shallowRef } from 'vue'
import type { Comparison, FirmPractice, PracticeQuestion } from '@/api/schema'
import { api, take } from '@/api/client'
import { useGuarded } from '@/api/useGuarded'
import { put, type Of } from '@/job/types'
import { useJob } from '@/job/useJob'
import { useLibrary } from '@/job/useLibrary'

type Practice = Of<'practice'>
type Choice = PracticeQuestion['choices'][number]
const job = useJob()
const library = useLibrary()
const firm = shallowRef<FirmPractice['practice'] | null>(null)
const tried = shallowRef<{ practice: Practice; label: string } | null>(null)
const compared = shallowRef<Comparison | null>(null)
const { said, busy, guarded } = useGuarded()
const practice = computed(() => job.of('practice')[0])
const questions = computed(() => Object.entries(library.shelves?.practice ?? {}))
const ROWS: readonly (readonly [keyof Comparison['before'], string, string])[] = [
  ['faults', 'faults', ''],
  ['warnings', 'warnings', ''],
  ['advice', 'advice', ''],
  ['spaces_met', 'spaces met', ''],
  ['runs', 'runs', ''],
  ['run_m', 'cable', 'm'],
  ['cost', 'kit', ''],
  ['hours', 'hours', 'h'],
]

function fits(on: object | null | undefined, choice: Choice): boolean {
  return Object.entries(choice.sets).every(
    ([field, value]) => (on as Record<string, unknown> | null | undefined)?.[field] === value,
  )
}
function chosen(question: PracticeQuestion): number {
  return question.choices.findIndex((choice) => fits(practice.value, choice))
}
async function tryOut(question: PracticeQuestion, choice: Choice): Promise<void> {
  const now = practice.value
  if (!now || fits(now, choice)) {
    tried.value = compared.value = null
    return
  }
  const next = { ...now, ...choice.sets } as Practice
  tried.value = { practice: next, label: `${question.question}: ${choice.label}` }
  compared.value = null
  const call = { params: { path: { job_id: job.id } }, body: { practice: next } }
  const found = await guarded(() => take(api.POST('/api/jobs/{job_id}/practice/compare', call)))
  if (tried.value?.practice === next) compared.value = found ?? null
}
function takeIt(): void {
  if (tried.value) job.edit(`Practice: ${tried.value.label}`, [put(tried.value.practice)])
  tried.value = compared.value = null
}
async function loadFirm(): Promise<void> {
  firm.value = (await guarded(() => take(api.GET('/api/firm/practice'))))?.practice ?? null
}
async function makeFirms(): Promise<void> {
  if (!practice.value) return
  const body = { practice: practice.value }
  firm.value = (await guarded(() => take(api.PUT('/api/firm/practice', { body }))))?.practice ?? firm.value
}
function likeFirm(): void {
  const [now, wanted] = [practice.value, firm.value]
  if (now && wanted) job.edit('Practice as the firm has it', [put({ ...wanted, id: now.id, label: now.label })])
}
const differs = computed(
  () =>
    questions.value.filter(
      ([, q]) => firm.value && q.choices[chosen(q)] && !fits(firm.value, q.choices[chosen(q)] as Choice),
    ).length,
)
onMounted(() => void loadFirm())
</script>

<template>
  <div class="practice">
    <div class="top">
      <p class="quiet">
        {{
          differs
            ? `This job differs from the firm's practice in ${differs} of ${questions.length}.`
            : 'This job follows the firm’s practice.'
        }}
      </p>
      <button type="button" class="ink-button" :disabled="!differs" @click="likeFirm">Take the firm's</button>
      <button type="button" class="ink-button" :disabled="!differs" @click="makeFirms">Make this the firm's</button>
    </div>
    <p v-if="said" class="fault" role="alert">▲ {{ said }}</p>
    <aside v-if="tried" class="compare" aria-label="Before and after" aria-live="polite">
      <h3>{{ tried.label }}</h3>
      <p v-if="busy" role="status">Computing before and after…</p>
      <template v-if="compared">
        <table>
          <thead>
            <tr>
              <th scope="col"><span class="visually-hidden">What</span></th>
              <th scope="col">now</th>
              <th scope="col">then</th>
            </tr>
          </thead>
          <tbody>
            <tr
              v-for="[key, name, unit] in ROWS"
              :key="key"
              :class="{ changes: compared.before[key] !== compared.after[key] }"
            >
              <th scope="row">{{ name }}</th>
              <td class="mono">{{ compared.before[key] }}</td>
              <td class="mono">{{ compared.after[key] }} {{ key === 'cost' ? compared.currency : unit }}</td>
            </tr>
          </tbody>
        </table>
        <div class="turns">
          <p v-for="f in compared.comes.slice(0, 5)" :key="f.key">
            <span class="fault">comes</span> {{ f.title }}: {{ f.subject }}
          </p>
          <p v-if="compared.comes.length > 5" class="quiet">and {{ compared.comes.length - 5 }} more come</p>
          <p v-for="f in compared.goes.slice(0, 5)" :key="f.key">
            <span class="holds">goes</span> {{ f.title }}: {{ f.subject }}
          </p>
          <p v-if="compared.goes.length > 5" class="quiet">and {{ compared.goes.length - 5 }} more go</p>
          <p v-if="!compared.comes.length && !compared.goes.length" class="quiet">
            No finding comes or goes; settings, names or later proposals change.
          </p>
        </div>
        <div class="act">
          <button type="button" class="ink-button primary" @click="takeIt">Take it for this job</button
          ><button type="button" class="ink-button" @click="tried = null">Leave it</button>
        </div>
      </template>
    </aside>
    <div v-for="[id, q] in questions" :key="id" class="question" role="group" :aria-label="q.question">
      <div>
        <strong>{{ q.question }}</strong>
        <span class="quiet">{{ library.shelves?.stages[q.stage]?.name }}: {{ q.drives }}</span>
      </div>
      <div class="choices">
        <button
          v-for="(choice, n) in q.choices"
          :key="choice.label"
          type="button"
          class="ink-button"
          :aria-pressed="n === chosen(q)"
          :class="{ tried: tried?.label === `${q.question}: ${choice.label}` }"
          @click="tryOut(q, choice)"
        >
          {{ choice.label
          }}<span class="quiet default">{{
            [n === 0 ? 'default' : '', firm && fits(firm, choice) ? 'firm' : ''].filter(Boolean).join(' · ')
          }}</span>
        </button>
      </div>
      <span class="quiet reason">{{ q.why }}</span>
    </div>
  </div>
</template>

<style scoped>
.practice {
  display: grid;
  gap: 9px;
}
.top {
  display: flex;
  gap: 10px;
  align-items: center;
}
p {
  margin: 0;
}
.question {
  display: grid;
  gap: 2px;
  border-bottom: 1px solid var(--rule);
  padding-bottom: 7px;
  font-size: 0.94rem;
}
.question > div:first-child .quiet {
  font-size: 0.84rem;
}
.choices {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
}
.reason {
  font-size: 0.86rem;
}
.default {
  font-size: 0.78rem;
  margin-left: 5px;
}
[aria-pressed='true'] .default {
  color: inherit;
}
.tried {
  outline: 2px dashed var(--heather);
  outline-offset: 1px;
}
.compare {
  position: sticky;
  top: -14px;
  z-index: 2;
  background: var(--paper-raised);
  border: 1px solid var(--ink);
  padding: 8px 12px;
  display: grid;
  grid-template-columns: auto minmax(0, 1fr);
  gap: 4px 24px;
  font-size: 0.9rem;
}
.compare h3 {
  grid-column: 1 / -1;
}
.act {
  grid-column: 1 / -1;
  display: flex;
  gap: 8px;
}
table {
  border-collapse: collapse;
}
th {
  text-align: left;
  font-weight: 400;
  padding-right: 14px;
  color: var(--ink-quiet);
}
td {
  text-align: right;
  padding-left: 14px;
}
.changes td {
  color: var(--heather);
  font-weight: 700;
}
</style>
