<script setup lang="ts">
/** The places a run was told to pass: moved by figures, released one by one or all, or one more added. */
import { computed } from 'vue'
import { put, type Of } from '@/job/types'
import { useAssessment } from '@/job/useAssessment'
import { useJob } from '@/job/useJob'
import { useView } from '@/job/useView'
import FieldRow from '@/margin/FieldRow.vue'
import { valueAt, withValue, type Field } from '@/margin/fields'
import { useDetour } from '@/runs/useDetour'

const props = defineProps<{ run: Of<'link'> }>()
const job = useJob()
const view = useView()
const assessment = useAssessment()
const detour = useDetour(() => ({ x_m: 0, y_m: 0 }))
const legs = computed(() => assessment.found?.runs.find((plan) => plan.run_id === props.run.id)?.legs ?? [])
/** The longest level leg on the storey in sight. */
const longest = computed(() => {
  let best: { n: number; length: number } | null = null
  for (const [n, leg] of legs.value.entries()) {
    const level = leg.z0_m === leg.z1_m && leg.storey_id === view.storey?.id
    if (level && leg.length_m > (best?.length ?? 0)) best = { n, length: leg.length_m }
  }
  return best?.n ?? null
})
function fieldsOf(n: number): Field[] {
  const field = (axis: string, label: string): Field => ({
    path: `pins.${n}.at.${axis}`,
    label,
    unit: 'm',
    type: 'number',
    empty: false,
    options: [],
    shelf: null,
    refers: null,
    only: null,
    least: null,
    most: null,
  })
  return [field('x_m', 'Across'), field('y_m', 'Down')]
}
function change(path: string, value: unknown): void {
  job.edit(`Lead ${props.run.label} another way`, [put(withValue(props.run, path, value))])
}
function release(n: number): void {
  const pins = props.run.pins.filter((_, i) => i !== n)
  job.edit(`Release a pin of ${props.run.label}`, [put({ ...props.run, pins })])
}
function add(): void {
  const leg = longest.value === null ? undefined : legs.value[longest.value]
  if (!leg) return
  const at = { x_m: (leg.a.x_m + leg.b.x_m) / 2, y_m: (leg.a.y_m + leg.b.y_m) / 2 }
  void detour.pinOn({ run: props.run.id, leg: longest.value ?? 0 }, at)
}
</script>

<template>
  <details v-if="legs.length" class="pins" :open="run.pins.length > 0">
    <summary>{{ run.pins.length ? `Led by ${run.pins.length} of your pins` : 'Finds its own way' }}</summary>
    <p v-if="detour.said.value" class="fault" role="alert">▲ {{ detour.said.value }}</p>
    <fieldset v-for="(pin, n) in run.pins" :key="n">
      <legend class="visually-hidden">Pin {{ n + 1 }}</legend>
      <FieldRow
        v-for="field in fieldsOf(n)"
        :key="field.path"
        :field="field"
        :value="valueAt(run, field.path)"
        @change="change(field.path, $event)"
      />
      <button type="button" class="ink-button" :aria-label="`Release pin ${n + 1}`" @click="release(n)">Release</button>
      <span class="quiet">{{ pin.storey_id === view.storey?.id ? '' : 'on another storey' }}</span>
    </fieldset>
    <p class="quiet">Drag the run on the sheet, or</p>
    <button type="button" class="ink-button" :disabled="longest === null" @click="add">Pin its longest part</button>
  </details>
</template>

<style scoped>
.pins {
  font-size: 0.9rem;
}
summary {
  cursor: pointer;
  color: var(--ink-quiet);
}
fieldset {
  border: 0;
  border-left: 2px solid var(--heather);
  margin: 6px 0;
  padding: 0 0 0 8px;
  display: grid;
  gap: 3px;
  justify-items: start;
}
p {
  margin: 4px 0 3px;
}
</style>
