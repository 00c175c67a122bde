<script setup lang="ts">
/** What the client has still to answer; answers carry their day. */
import { vDraft } from '@/ink/draft'
import { computed } from 'vue'
import { today, useBrief } from '@/brief/useBrief'
import { useAssessment } from '@/job/useAssessment'
import { useJob } from '@/job/useJob'

const job = useJob()
const assessment = useAssessment()
const { brief, change } = useBrief()
const questions = computed(() => assessment.found?.questions ?? [])
const left = computed(() => questions.value.filter((q) => q.answer === null).length)

function answer(code: string, event: Event): void {
  const text = (event.target as HTMLInputElement).value.trim()
  const others = (brief.value?.answers ?? []).filter((a) => a.question !== code)
  change(text ? 'Answer a question' : 'Take an answer back', {
    answers: text ? [...others, { question: code, text, on: today() }] : others,
  })
}
</script>

<template>
  <div class="questions">
    <p class="lead">
      {{ left ? `${left} questions are open.` : 'Everything is answered.' }} Send the list:
      <a class="ink-button" :href="`/api/jobs/${job.id}/export/questions.pdf`">PDF</a>
      <a class="ink-button" :href="`/api/jobs/${job.id}/export/questions.txt`">Text</a>
    </p>
    <ol>
      <li v-for="q in questions" :key="q.code" :class="{ answered: q.answer !== null }">
        <label :for="`q-${q.code}`"
          ><span :class="q.answer !== null ? 'holds' : 'advice'" aria-hidden="true">{{
            q.answer !== null ? '✓' : '●'
          }}</span>
          {{ q.text }}</label
        >
        <span class="quiet why">{{ q.why }}</span>
        <span class="answer"
          ><input
            :id="`q-${q.code}`"
            v-draft="q.answer ?? ''"
            class="field"
            maxlength="1000"
            placeholder="not answered yet"
            @change="answer(q.code, $event)"
          /><span v-if="q.on" class="mono quiet">{{ q.on }}</span></span
        >
      </li>
    </ol>
  </div>
</template>

<style scoped>
.questions {
  max-width: 780px;
}
.lead {
  margin: 0 0 8px;
}
ol {
  margin: 0;
  padding-left: 1.6rem;
  display: grid;
  gap: 8px;
}
li {
  border-bottom: 1px solid var(--rule);
  padding-bottom: 7px;
}
label {
  display: block;
}
.why {
  font-size: 0.86rem;
  display: block;
}
.answer {
  display: flex;
  gap: 10px;
  align-items: center;
  margin-top: 3px;
}
.answer input {
  flex: 1;
}
</style>
