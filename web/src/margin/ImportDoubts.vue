<script setup lang="ts">
/** What of a drawing was guessed: the least certain first, and all alike put right by one press. */
import { computed } from 'vue'
import { useImport } from '@/job/useImport'
import ImportGuess from '@/margin/ImportGuess.vue'

const importing = useImport()
const guesses = computed(() => importing.reading?.proposal.doubts ?? [])
const doubtful = computed(() => guesses.value.filter((guess) => !importing.isSure(guess.certainty)))
const sure = computed(() => guesses.value.filter((guess) => importing.isSure(guess.certainty)))
</script>

<template>
  <section v-if="doubtful.length" class="first" aria-label="To look at first">
    <h3>To look at first</h3>
    <ul>
      <ImportGuess v-for="doubt in doubtful" :key="`${doubt.of} ${doubt.alike}`" :doubt="doubt" />
    </ul>
  </section>
  <details v-if="sure.length" aria-label="Guessed and sure">
    <summary>Guessed and sure: {{ sure.length }}</summary>
    <ul>
      <ImportGuess v-for="doubt in sure" :key="`${doubt.of} ${doubt.alike}`" :doubt="doubt" />
    </ul>
  </details>
</template>

<style scoped>
h3 {
  margin: 0;
  font-size: 0.9rem;
}
ul {
  margin: 3px 0 0;
  padding: 0;
  list-style: none;
  display: grid;
  gap: 4px;
}
.first ul {
  max-height: 190px;
  overflow: auto;
}
summary {
  cursor: pointer;
  font-size: 0.9rem;
}
</style>
