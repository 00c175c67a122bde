<script setup lang="ts">
/** One fault: what, where, whose; its turns; and its next one. */
import { computed, ref } from 'vue'
import type { FaultShown } from '@/api/schema'
import { useJob } from '@/job/useJob'
import { useProven } from '@/prove/useProven'

const props = defineProps<{ fault: FaultShown }>()
const emit = defineEmits<{ show: [] }>()
const job = useJob()
const proven = useProven()
const why = ref('')
type State = FaultShown['state']
const SIGNS: Readonly<Record<State, readonly [string, string, string]>> = {
  open: ['▲', 'open', 'fault'],
  mended: ['◇', 'mended, to be looked at', 'warning'],
  checked: ['✓', 'mended and looked at', 'holds'],
  accepted: ['✓', 'accepted', 'quiet'],
}
const NEXT: Readonly<Record<State, readonly (readonly [State, string])[]>> = {
  open: [
    ['mended', 'Mended'],
    ['accepted', 'Accept it'],
  ],
  mended: [
    ['checked', 'I looked: it holds'],
    ['open', 'Still wrong'],
  ],
  checked: [['open', 'Open it again']],
  accepted: [['open', 'Open it again']],
}
const sign = computed(() => SIGNS[props.fault.state])
const times = new Intl.DateTimeFormat(undefined, { dateStyle: 'medium' })
async function turn(state: State): Promise<void> {
  const { record_id, subject } = props.fault
  const measured = { measured: 'turn' as const, state, owner: '' }
  if (await proven.write({ kind: 'measured', subject, about: record_id, text: why.value, measured })) why.value = ''
}
/** Living with a fault asks for a reason: it goes into the hand-over. */
const bare = (state: State): boolean => state === 'accepted' && why.value.trim().length < 3
</script>

<template>
  <li>
    <p class="line">
      <span :class="sign[2]" class="state"
        ><span aria-hidden="true">{{ sign[0] }}</span
        >{{ sign[1] }}</span
      >
      <button type="button" class="bare label" @click="emit('show')">{{ fault.label }}</button>
      <strong>{{ fault.text }}</strong>
      <span class="quiet"
        >{{ fault.by }}, {{ times.format(new Date(fault.said))
        }}<template v-if="fault.owner">; for {{ fault.owner }}</template></span
      >
      <a v-for="(photo, n) in fault.photos" :key="photo" :href="`/api/jobs/${job.id}/photos/${photo}`" target="_blank"
        >photograph {{ n + 1 }}</a
      >
    </p>
    <p v-for="(step, n) in fault.steps" :key="n" class="quiet step">
      {{ times.format(new Date(step.at)) }} {{ step.by }}: {{ SIGNS[step.state][1]
      }}<template v-if="step.text">, {{ step.text }}</template>
    </p>
    <p class="line">
      <input
        v-model="why"
        class="field why"
        maxlength="500"
        placeholder="how it was mended, or why it stays"
        :aria-label="`Words on ${fault.text}`"
      />
      <button
        v-for="[state, name] in NEXT[fault.state]"
        :key="state"
        type="button"
        class="ink-button"
        :disabled="bare(state)"
        :title="bare(state) ? 'Say why it is lived with' : undefined"
        @click="turn(state)"
      >
        {{ name }}
      </button>
    </p>
  </li>
</template>

<style scoped>
li {
  border-top: 1px solid var(--rule);
  padding: 3px 0 5px;
}
.line {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 10px;
  align-items: center;
  margin: 2px 0;
}
.state {
  display: inline-flex;
  gap: 5px;
  min-width: 10rem;
}
.label {
  text-decoration: underline dotted;
  min-height: 24px;
}
.step {
  margin: 0 0 0 10.8rem;
  font-size: 0.88rem;
}
.why {
  margin-left: 10.8rem;
  width: 18rem;
}
</style>
