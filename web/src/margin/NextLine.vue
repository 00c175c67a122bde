<script setup lang="ts">
/** One quiet line: the next useful step of this job, and the way there. */
import { computed } from 'vue'
import type { NextStep } from '@/api/schema'
import { useImport } from '@/job/useImport'
import { usePointer } from '@/job/usePointer'
import { useShape } from '@/job/useShape'
import { useView } from '@/job/useView'
import { useNextSteps } from '@/margin/useNextSteps'

const pointer = usePointer()
const view = useView()
const importing = useImport()
const next = useNextSteps()
const shaping = useShape()
const words = computed(() => {
  const about = next.finding ? `: ${next.finding.title.toLowerCase()}` : ''
  return `${next.step?.text ?? ''}${about}`
})

/** Whether the server could do the step by itself. */
async function done(step: NextStep): Promise<boolean> {
  const storey = view.storey
  return Boolean(step.shape && storey && (await shaping.run(step.text, { do: step.shape, storey_id: storey.id })))
}
async function go(): Promise<void> {
  const step = next.step
  if (!step || (await done(step))) return
  const finding = next.finding
  view.stage = finding?.stage ?? step.stage
  // After the stage has taken the tool of the last one out of the hand, and what it pointed at.
  setTimeout(() => {
    if (finding) pointer.visit(finding)
    if (step.tool) view.tool = step.tool
    if (step.panel) {
      view.panel = step.panel
      view.drawer = step.stage !== 'brief'
    }
  })
}
</script>

<template>
  <p v-if="importing.reading" class="next">
    <span class="quiet">Next</span>
    <span>Look the drawing through and accept it</span>
  </p>
  <p v-else-if="next.step" class="next">
    <span class="quiet">Next</span>
    <button type="button" class="bare step" @click="go">{{ words }}&nbsp;›</button>
    <button
      v-if="next.mayWait"
      type="button"
      class="bare quiet"
      title="Not now: show the step after this one"
      @click="next.putOff"
    >
      later
    </button>
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
.step {
  flex: 1;
  text-align: left;
  color: var(--heather);
}
</style>
