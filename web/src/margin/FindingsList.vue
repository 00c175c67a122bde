<script setup lang="ts">
/** Findings of this stage, or of all; the next one by key. */
import { computed, nextTick, ref, watch } from 'vue'
import type { Finding } from '@/api/schema'
import { useAssessment } from '@/job/useAssessment'
import { usePointer } from '@/job/usePointer'
import { useView } from '@/job/useView'
import FindingGroup from '@/margin/FindingGroup.vue'
import FindingNote from '@/margin/FindingNote.vue'
import { useController } from '@/network/useController'

const assessment = useAssessment()
const controller = useController()
const view = useView()
const pointer = usePointer()
const scope = ref<'stage' | 'all'>('stage')

const shown = computed(() => {
  // What a live network says stands beside what the plan says; nothing of it is kept with the job.
  const said = [...controller.findings, ...assessment.findings]
  const mine = scope.value === 'all' ? said : said.filter((finding) => finding.stage === view.stage)
  return mine.toSorted((a, b) => Number(Boolean(a.accepted)) - Number(Boolean(b.accepted)))
})
/** One entry a rule and severity, in the order of the list: alone as it is, several as a group that opens. */
const entries = computed(() => {
  const groups = new Map<string, Finding[]>()
  for (const finding of shown.value) {
    const key = finding.accepted ? finding.key : `${finding.severity} ${finding.rule}`
    groups.set(key, [...(groups.get(key) ?? []), finding])
  }
  return [...groups].map(([key, findings]) => ({ key, findings }))
})
const SIGNS = [
  ['fault', '▲', 'fault', 'faults'],
  ['warning', '◆', 'warning', 'warnings'],
  ['advice', '◇', 'advice', 'advice'],
] as const
const counts = computed(() => {
  const open = shown.value.filter((finding) => !finding.accepted)
  const all = SIGNS.map(([severity, sign, one, more]) => {
    const n = open.filter((finding) => finding.severity === severity).length
    return { severity, sign, n, words: n === 1 ? one : more }
  })
  return all.filter(({ n }) => n)
})
watch(
  () => pointer.pointed,
  async (pointed) => {
    if (!pointed || pointed.y) return
    if (!shown.value.some((finding) => finding.key === pointed.finding.key)) scope.value = 'all'
    await nextTick()
    // At the top: what is still to come into the card above then pushes nothing out of sight.
    document.querySelector('.note.here')?.scrollIntoView({ block: 'start' })
  },
)
</script>

<template>
  <section class="findings" aria-label="Findings">
    <header>
      <h2>Findings</h2>
      <span class="quiet counts">
        <span v-for="c in counts" :key="c.severity" :class="c.severity" :title="`${c.n} ${c.words}`">
          <span aria-hidden="true">{{ c.sign }} {{ c.n }}</span
          ><span class="visually-hidden">{{ c.n }} {{ c.words }} </span>
        </span>
        <template v-if="!counts.length">none open</template>
      </span>
      <select v-model="scope" class="field" aria-label="Which findings">
        <option value="stage">this stage</option>
        <option value="all">all stages</option>
      </select>
      <button
        type="button"
        class="ink-button key"
        title="Next finding (.)"
        aria-label="Next finding"
        @click="pointer.stepFinding(1)"
      >
        .
      </button>
    </header>
    <p v-if="!assessment.found" class="quiet empty">Computing…</p>
    <p v-else-if="!shown.length" class="quiet empty">
      Nothing to say of this stage. {{ assessment.open.length ? `${assessment.open.length} findings elsewhere.` : '' }}
    </p>
    <template v-for="entry in entries" :key="entry.key">
      <FindingGroup v-if="entry.findings.length > 1" :findings="entry.findings" />
      <FindingNote v-else-if="entry.findings[0]" :finding="entry.findings[0]" />
    </template>
  </section>
</template>

<style scoped>
.findings {
  padding-bottom: 16px;
}
header {
  display: flex;
  gap: 8px;
  align-items: center;
  padding: 10px 14px 8px;
  position: sticky;
  top: 0;
  background: var(--paper-raised);
  z-index: 1;
}
.counts {
  flex: 1;
  display: flex;
  gap: 8px;
  white-space: nowrap;
  min-width: max-content;
  font-size: 0.86rem;
  line-height: 1.2;
}
.key {
  padding: 0 0.5rem;
  font-family: var(--mono);
}
.empty {
  padding: 0 14px;
  margin: 0;
}
</style>
