<script setup lang="ts">
/** The ten stages with their state: untouched, in hand, findings open, clear. */
import { computed } from 'vue'
import Mark from '@/ink/Mark.vue'
import { useAssessment } from '@/job/useAssessment'
import { useJob } from '@/job/useJob'
import { useView } from '@/job/useView'
import { useStages } from '@/stages/useStages'

const job = useJob()
const view = useView()
const assessment = useAssessment()
const { stages } = useStages()
const WORDS = {
  fault: 'faults open',
  warning: 'warnings open',
  advice: 'advice open',
  holds: 'clear',
  open: 'untouched',
} as const

const states = computed(() =>
  stages.value.map((stage) => {
    const mine = assessment.open.filter((finding) => finding.stage === stage.id)
    const worst = (['fault', 'warning', 'advice'] as const).find((severity) =>
      mine.some((finding) => finding.severity === severity),
    )
    const touched = job.all.some((element) => stage.touched.includes(element.kind))
    const mark: keyof typeof WORDS = worst ?? (touched ? 'holds' : 'open')
    return { ...stage, count: mine.length, mark }
  }),
)
</script>

<template>
  <nav class="spine" aria-label="Stages">
    <button
      v-for="stage in states"
      :key="stage.id"
      type="button"
      :class="{ on: view.stage === stage.id }"
      :aria-current="view.stage === stage.id ? 'step' : undefined"
      @click="view.stage = stage.id"
    >
      <span class="mono n">{{ stage.key }}</span><span class="name">{{ stage.name }}</span>
      <span v-if="stage.count" class="mono count">{{ stage.count }}</span><Mark :kind="stage.mark" />
      <span class="visually-hidden">{{ WORDS[stage.mark] }}</span>
    </button>
  </nav>
</template>

<style scoped>
.spine {
  display: flex;
  flex-direction: column;
}
button {
  display: flex;
  align-items: center;
  gap: 8px;
  font: inherit;
  color: var(--ink);
  background: none;
  border: 0;
  border-bottom: 1px solid var(--rule);
  padding: 6px 10px;
  text-align: left;
  cursor: pointer;
}
button:hover {
  background: var(--heather-tint);
}
button.on {
  background: var(--heather);
  color: var(--on-heather);
}
button.on :deep(.mark),
button.on .n,
button.on .count {
  color: var(--on-heather);
}
.n {
  color: var(--ink-quiet);
  font-size: 0.82rem;
}
.name {
  flex: 1;
  white-space: nowrap;
}
.count {
  font-size: 0.82rem;
  color: var(--ink-quiet);
}
</style>
