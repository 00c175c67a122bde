<script setup lang="ts">
/** The scale of a drawing: what was taken, all that speaks for or against it, and four ways to say another. */
import { computed, ref } from 'vue'
import { useImport } from '@/job/useImport'
import { useUnits } from '@/units/useUnits'

const importing = useImport()
const units = useUnits()
const by = ref<'door' | 'length' | 'print' | 'unit'>('length')
const shown = ref('')
const truth = ref('')
const printed = ref('100')
const paper = ref<'A0' | 'A1' | 'A2' | 'A3' | 'A4'>('A3')
const unit = ref(0.001)
const UNITS: readonly (readonly [number, string])[] = [
  [0.001, 'millimetres'],
  [0.01, 'centimetres'],
  [1, 'metres'],
  [0.0254, 'inches'],
  [0.3048, 'feet'],
]
const reading = computed(() => importing.reading)
const evidence = computed(() => reading.value?.evidence ?? [])
/** Asked where nothing tells it, or where what is said disagrees. */
const asked = computed(() => !reading.value?.scale_known || evidence.value.some((e) => !e.agrees))

function setScale(): void {
  const length = (text: string) => units.parseLength(text)
  const none = { metres_per_unit: null, shown_m: null, true_m: null, door_m: null, printed: null, paper: null }
  const said = {
    length: { shown_m: length(shown.value), true_m: length(truth.value) },
    door: { door_m: length(truth.value) },
    print: { printed: Number(printed.value), paper: paper.value },
    unit: { metres_per_unit: unit.value },
  }[by.value]
  if (Object.values(said).some((value) => value === null || (typeof value === 'number' && !(value > 0)))) {
    importing.error = 'A length or a scale is a number above zero, like 3.5. Nothing was changed.'
    return
  }
  void importing.ask({ scale: { ...none, ...said } })
}
</script>

<template>
  <details v-if="reading" :open="asked">
    <summary>Scale: {{ reading.unit }}<template v-if="!reading.scale_known"> · nothing says it</template></summary>
    <ul v-if="evidence.length" class="evidence" aria-label="What speaks for the scale">
      <li v-for="(e, i) in evidence" :key="i" :class="{ against: !e.agrees }">
        <span aria-hidden="true">{{ e.agrees ? '✓' : '▲' }}</span>
        <span>{{ e.what }}: {{ e.says }}<template v-if="!e.agrees"> (says another scale)</template></span>
      </li>
    </ul>
    <div class="scale">
      <select v-model="by" class="field" aria-label="Scale by">
        <option value="length">by a known length</option>
        <option value="door">by the width of a door</option>
        <option value="print">by printed scale</option>
        <option v-if="reading.kind !== 'picture'" value="unit">by unit</option>
      </select>
      <template v-if="by === 'length'"
        ><input
          v-model="shown"
          class="field"
          placeholder="shown, m"
          aria-label="Length as shown"
          inputmode="decimal" /><input
          v-model="truth"
          class="field"
          placeholder="true, m"
          aria-label="True length"
          inputmode="decimal"
      /></template>
      <input
        v-if="by === 'door'"
        v-model="truth"
        class="field"
        placeholder="0.9"
        aria-label="True width of a door"
        inputmode="decimal"
      />
      <template v-if="by === 'print'"
        ><span>1 : <input v-model="printed" class="field" aria-label="Printed scale" inputmode="numeric" /></span
        ><select v-model="paper" class="field" aria-label="Paper">
          <option v-for="p in ['A0', 'A1', 'A2', 'A3', 'A4']" :key="p">{{ p }}</option>
        </select></template
      >
      <select v-if="by === 'unit'" v-model.number="unit" class="field" aria-label="Unit">
        <option v-for="[per, name] in UNITS" :key="per" :value="per">{{ name }}</option>
      </select>
      <button type="button" class="ink-button" @click="setScale">Set</button>
    </div>
  </details>
</template>

<style scoped>
.evidence {
  margin: 4px 0;
  padding: 0;
  list-style: none;
  font-size: 0.85rem;
  display: grid;
  gap: 2px;
}
.evidence li {
  display: grid;
  grid-template-columns: 1rem minmax(0, 1fr);
  color: var(--ink-quiet);
}
.evidence .against {
  color: var(--gorse);
}
.scale {
  display: flex;
  flex-wrap: wrap;
  gap: 5px;
  padding-top: 5px;
}
.scale input {
  width: 5rem;
}
summary {
  cursor: pointer;
  font-size: 0.9rem;
}
</style>
