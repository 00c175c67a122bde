<script setup lang="ts">
/** A finding as a margin note: what, the number and its limit, why, what to do. */
import { computed, ref, useTemplateRef } from 'vue'
import type { Finding, Fix } from '@/api/schema'
import Mark from '@/ink/Mark.vue'
import { useMake } from '@/job/make'
import { put, remove } from '@/job/types'
import { useJob } from '@/job/useJob'
import { usePointer } from '@/job/usePointer'
import { useView } from '@/job/useView'
import { useRemedies } from '@/margin/useRemedies'
import { useUnits } from '@/units/useUnits'

const props = defineProps<{ finding: Finding }>()
const job = useJob()
const view = useView()
const pointer = usePointer()
const units = useUnits()
const make = useMake()
const note = useTemplateRef<HTMLElement>('note')
const accepting = ref(false)
const reason = ref('')
const WORDS = { fault: 'Fault', warning: 'Warning', advice: 'Advice' } as const
const here = computed(() => pointer.pointed?.finding.key === props.finding.key)

function point(): void {
  const box = note.value?.getBoundingClientRect()
  const sheet = document.querySelector('.sheet')?.getBoundingClientRect()
  pointer.pointed = { finding: props.finding, y: (box?.top ?? 0) + 12 - (sheet?.top ?? 0) }
}
function enter(): void {
  point()
  void remedies.look()
}
function leave(): void {
  if (pointer.pointed?.y) pointer.pointed = null
}
const remedies = useRemedies(() => props.finding)
/** A remedy that does not hold is said to, and made only when it is pressed again. */
const warned = ref<string | null>(null)
/** A press is taken once: the next one waits until the trial has told. */
const pressed = ref(false)
async function press(fix: Fix, number: number): Promise<void> {
  if (pressed.value) return
  pressed.value = true
  await remedies.look()
  pressed.value = false
  if (remedies.against(number) && warned.value !== fix.label) {
    warned.value = fix.label
    return
  }
  warned.value = null
  job.edit(fix.label, fix.operations)
}
function accept(): void {
  if (reason.value.trim().length < 3) return
  job.edit(`Accept: ${props.finding.title}`, [
    put(
      make('acceptance', {
        label: props.finding.subject.slice(0, 80),
        finding_key: props.finding.key,
        reason: reason.value.trim(),
      }),
    ),
  ])
  accepting.value = false
}
function takeBack(): void {
  const kept = job.of('acceptance').find((a) => a.finding_key === props.finding.key)
  if (kept) job.edit(`Take back: ${props.finding.title}`, [remove(kept.id)])
}
</script>

<template>
  <article
    ref="note"
    class="note"
    :class="[finding.severity, { here, accepted: finding.accepted }]"
    :data-rule="finding.rule"
    :data-key="finding.key"
    @mouseenter="enter"
    @mouseleave="leave"
  >
    <h3>
      <Mark :kind="finding.accepted ? 'holds' : finding.severity" />
      <span :class="finding.severity">{{ finding.accepted ? 'Accepted' : WORDS[finding.severity] }}</span>
      <button type="button" class="bare subject" title="Go to the place" @click="pointer.visit(finding)">
        {{ finding.subject }}
      </button>
    </h3>
    <p>{{ units.sentence(finding.text) }} {{ finding.accepted ? '' : units.sentence(finding.advice) }}</p>
    <p v-if="finding.accepted" class="quiet">
      “{{ finding.accepted }}” <button type="button" class="bare sum-link" @click="takeBack">Take back</button>
    </p>
    <div v-else class="fixes">
      <template v-for="(fix, i) in finding.fixes" :key="fix.label">
        <button
          type="button"
          class="ink-button"
          :class="{ primary: i === 0 && !remedies.against(i) }"
          :aria-busy="pressed"
          @focus="remedies.look()"
          @click="press(fix, i)"
        >
          {{ fix.label }}
        </button>
        <span v-if="remedies.against(i)" class="against">
          ▲ {{ remedies.against(i) }}{{ warned === fix.label ? '. Press again to do it all the same.' : '' }}
        </span>
      </template>
      <details class="why">
        <summary>Why</summary>
        <p>
          {{ finding.why }} <span class="quiet">{{ finding.source }}.</span>
        </p>
        <button v-if="finding.sum" type="button" class="bare sum-link" @click="view.openSum = finding.sum">
          Open the sum
        </button>
        <button v-if="!accepting" type="button" class="bare sum-link" @click="accepting = true">
          Accept with a reason
        </button>
        <form v-else @submit.prevent="accept">
          <input
            v-model="reason"
            class="field"
            aria-label="Reason for accepting"
            placeholder="Reason, for the handover"
          />
          <button type="submit" class="ink-button" :disabled="reason.trim().length < 3">Accept</button>
        </form>
      </details>
    </div>
  </article>
</template>

<style scoped>
.note {
  margin: 0 14px;
  padding: 7px 0 7px 10px;
  border-left: 3px solid var(--gorse);
  border-bottom: 1px solid var(--rule);
}
.note.fault {
  border-left-color: var(--rust);
  color: var(--ink);
}
.note.advice,
.note.warning {
  color: var(--ink);
}
.note.accepted {
  border-left-color: var(--moss);
}
.note.here {
  /* Clear of the heading that stays at the top of the list. */
  scroll-margin-top: 46px;
  background: var(--heather-tint);
}
h3 {
  display: flex;
  gap: 5px;
  align-items: baseline;
  font-size: 0.92rem;
}
h3 span.fault {
  color: var(--rust);
}
h3 span.warning,
h3 span.advice {
  color: var(--gorse);
}
.note.accepted h3 span {
  color: var(--moss);
}
.subject {
  font-weight: 700;
  overflow-wrap: anywhere;
}
.subject:hover {
  color: var(--heather);
}
p {
  margin: 2px 0 5px;
  font-size: 0.92rem;
  line-height: 1.35;
}
.fixes {
  display: flex;
  flex-wrap: wrap;
  gap: 5px;
  align-items: center;
  font-size: 0.88rem;
}
.why {
  flex: 1 1 3rem;
}
.why[open] {
  flex-basis: 100%;
}
summary {
  cursor: pointer;
  color: var(--ink-quiet);
}
.why .bare {
  margin-right: 12px;
}
form {
  display: flex;
  gap: 5px;
  margin-top: 5px;
}
form .field {
  flex: 1;
}
.against {
  flex-basis: 100%;
  font-size: 0.86rem;
  color: var(--rust);
}
</style>
