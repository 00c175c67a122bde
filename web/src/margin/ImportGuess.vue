<script setup lang="ts">
/** One guess of a drawing, for all that is alike: lit on the sheet by a press, put right by a choice. */
import { computed } from 'vue'
import { useImport, type Doubt, type OpeningKind } from '@/job/useImport'

const props = defineProps<{ doubt: Doubt }>()
const importing = useImport()
const key = computed(() => `${props.doubt.of} ${props.doubt.alike}`)
const lit = computed(() => importing.lit === key.value)
const sure = computed(() => `${Math.round(props.doubt.certainty * 100)}%`)
const choices = computed<readonly (readonly ['guess' | 'out' | OpeningKind, string])[]>(() => {
  if (props.doubt.of !== 'opening') {
    return [
      ['guess', 'take them'],
      ['out', 'leave out'],
    ]
  }
  const guessed = props.doubt.alike.split(' ')[0]
  const others = (['door', 'window', 'opening'] as const).filter((kind) => kind !== guessed)
  const words = { door: 'doors', window: 'windows', opening: 'passages' }
  return [['guess', 'as guessed'], ...others.map((kind) => [kind, words[kind]] as const), ['out', 'leave out']]
})
function choose(event: Event): void {
  importing.putRight(props.doubt, (event.target as HTMLSelectElement).value as OpeningKind | 'out' | 'guess')
}
</script>

<template>
  <li>
    <button
      type="button"
      class="bare text"
      :class="{ on: lit }"
      :aria-pressed="lit"
      :title="`${sure} certain. Press to see them on the sheet.`"
      @click="importing.lit = lit ? '' : key"
    >
      <span class="mono" :class="importing.isSure(doubt.certainty) ? 'quiet' : 'unsure'">{{ sure }}</span>
      <span
        >{{ doubt.text }}<span class="quiet">: {{ doubt.why }}</span></span
      >
    </button>
    <select class="field" :value="importing.putAs(doubt)" :aria-label="`Take ${doubt.text} as`" @change="choose">
      <option v-for="[value, words] in choices" :key="value" :value="value">{{ words }}</option>
    </select>
  </li>
</template>

<style scoped>
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
.unsure {
  color: var(--gorse);
}
select {
  max-width: 7rem;
}
</style>
