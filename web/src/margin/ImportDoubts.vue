<script setup lang="ts">
/** What of a drawing was guessed: the least certain first, and all alike put right by one press. */
import { computed } from 'vue'
import { useImport, type Doubt, type OpeningKind } from '@/job/useImport'

const importing = useImport()
const doubts = computed(() => importing.reading?.proposal.doubts ?? [])
const key = (doubt: Doubt) => `${doubt.of} ${doubt.alike}`

function choices(doubt: Doubt): readonly (readonly ['guess' | 'out' | OpeningKind, string])[] {
  if (doubt.of !== 'opening') {
    return [
      ['guess', 'take them'],
      ['out', 'leave out'],
    ]
  }
  const guessed = doubt.alike.split(' ')[0]
  const others = (['door', 'window', 'opening'] as const).filter((kind) => kind !== guessed)
  const words = { door: 'doors', window: 'windows', opening: 'passages' }
  return [['guess', 'as guessed'], ...others.map((kind) => [kind, words[kind]] as const), ['out', 'leave out']]
}
function light(doubt: Doubt): void {
  importing.lit = importing.lit === key(doubt) ? '' : key(doubt)
}
</script>

<template>
  <section v-if="doubts.length" aria-label="To look at first">
    <h3>To look at first</h3>
    <ul>
      <li v-for="doubt in doubts" :key="key(doubt)">
        <button
          type="button"
          class="bare text"
          :class="{ on: importing.lit === key(doubt) }"
          :aria-pressed="importing.lit === key(doubt)"
          :title="`${Math.round(doubt.certainty * 100)} % certain. Press to see them on the sheet.`"
          @click="light(doubt)"
        >
          <span class="mono sure">{{ Math.round(doubt.certainty * 100) }}%</span>
          <span
            >{{ doubt.text }}<span class="quiet why">: {{ doubt.why }}</span></span
          >
        </button>
        <select
          class="field"
          :value="importing.putAs(doubt)"
          :aria-label="`Take ${doubt.text} as`"
          @change="
            importing.putRight(doubt, ($event.target as HTMLSelectElement).value as OpeningKind | 'out' | 'guess')
          "
        >
          <option v-for="[value, words] in choices(doubt)" :key="value" :value="value">{{ words }}</option>
        </select>
      </li>
    </ul>
  </section>
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
  max-height: 190px;
  overflow: auto;
}
li {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  gap: 6px;
  align-items: start;
  font-size: 0.85rem;
}
.text {
  display: grid;
  grid-template-columns: 2.4rem minmax(0, 1fr);
  text-align: left;
  line-height: 1.25;
  padding: 2px;
  cursor: pointer;
}
.text.on {
  background: color-mix(in srgb, var(--gorse) 18%, transparent);
}
.sure {
  color: var(--gorse);
}
select {
  max-width: 7rem;
}
</style>
