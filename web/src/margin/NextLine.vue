<script setup lang="ts">
/** One quiet line: the next useful step of this job, and the way there. */
import { computed } from 'vue'
import { useAssessment } from '@/job/useAssessment'
import { useImport } from '@/job/useImport'
import { usePointer } from '@/job/usePointer'
import { useView } from '@/job/useView'

const assessment = useAssessment()
const pointer = usePointer()
const view = useView()
const importing = useImport()
const step = computed(() => assessment.found?.next ?? null)

function go(): void {
  const next = step.value
  if (!next) return
  view.stage = next.stage
  const finding = assessment.findings.find((one) => one.key === next.finding)
  if (finding) pointer.visit(finding)
  // After the stage has taken the tool of the last one out of the hand.
  setTimeout(() => {
    if (next.tool) view.tool = next.tool
    if (next.panel) {
      view.panel = next.panel
      view.drawer = next.stage !== 'brief'
    }
  })
}
</script>

<template>
  <p v-if="importing.reading" class="next">
    <span class="quiet">Next</span>
    <span>Look the drawing through and accept it</span>
  </p>
  <p v-else-if="step" class="next">
    <span class="quiet">Next</span>
    <button type="button" class="bare" @click="go">{{ step.text }} ›</button>
  </p>
</template>

<style scoped>
.next {
  display: flex;
  gap: 8px;
  margin: 0;
  padding: 7px 14px;
  border-bottom: 1px solid var(--rule);
  font-size: 0.92rem;
  line-height: 1.25;
}
button {
  text-align: left;
  color: var(--heather);
}
</style>
