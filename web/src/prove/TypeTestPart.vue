<script setup lang="ts">
/** What a tester said, typed by hand: its verdict, and as many of its readings as somebody has. */
import { reactive } from 'vue'
import type { RunProof } from '@/api/schema'
import { useProven } from '@/prove/useProven'
import { numberOf } from '@/units/typed'

const props = defineProps<{ run: RunProof }>()
const proven = useProven()
type Quantity = 'length' | 'insertion-loss' | 'next' | 'return-loss' | 'loop' | 'light-loss'
const light = props.run.configuration === 'fibre link'
const FIELDS: readonly (readonly [Quantity, string, string, boolean])[] = light
  ? [
      ['light-loss', 'Loss of light', 'dB', false],
      ['length', 'Length', 'm', false],
    ]
  : [
      ['length', 'Length', 'm', false],
      ['insertion-loss', 'Insertion loss', 'dB', true],
      ['next', 'Crosstalk', 'dB', true],
      ['return-loss', 'Return loss', 'dB', true],
      ['loop', 'Loop', 'ohm', false],
    ]
const typed = reactive({ verdict: 'pass' as 'pass' | 'fail', wires: '', mhz: '100', odd: '' })
const values = reactive<Record<string, string>>({})
async function keep(): Promise<void> {
  const wires = typed.wires.replace(/\s/g, '').toLowerCase()
  if (wires && !/^[1-8xs]{8}$/.test(wires)) {
    typed.odd = 'A wire map has eight signs: 1 to 8, x for nowhere, s for joined. 12345678 is straight.'
    return
  }
  const readings = FIELDS.flatMap(([quantity, , , swept]) => {
    const value = numberOf(values[quantity] ?? '')
    return value === null ? [] : [{ quantity, pair: '', f_mhz: swept ? numberOf(typed.mhz) : null, value }]
  })
  typed.odd = ''
  const { run } = props
  const measured = {
    measured: 'test' as const,
    configuration: run.configuration,
    test_class: run.test_class,
    verdict: typed.verdict,
    wire_map: wires,
    split: false,
    site: '',
    tester: '',
    readings,
    curves: [],
  }
  if (await proven.write({ kind: 'measured', subject: run.run_id, task: `test:${run.run_id}`, measured })) {
    for (const name of Object.keys(values)) values[name] = ''
    typed.wires = ''
  }
}
</script>

<template>
  <form class="typed" @submit.prevent="keep">
    <label
      >The tester said
      <select v-model="typed.verdict" class="field">
        <option value="pass">pass</option>
        <option value="fail">fail</option>
      </select></label
    >
    <label v-if="!light"
      >Wire map <input v-model="typed.wires" class="field wide" maxlength="8" placeholder="12345678" autocomplete="off"
    /></label>
    <label v-for="[quantity, name, unit] in FIELDS" :key="quantity"
      >{{ name }}
      <input v-model="values[quantity]" class="field number" inputmode="decimal" />
      <span class="quiet">{{ unit }}</span></label
    >
    <label v-if="!light"
      >at <input v-model="typed.mhz" class="field number" inputmode="decimal" aria-label="Frequency of these, MHz" />
      <span class="quiet">MHz</span></label
    >
    <button type="submit" class="ink-button primary">Keep this test</button>
    <span v-if="typed.odd" class="fault" role="alert">▲ {{ typed.odd }}</span>
  </form>
</template>

<style scoped>
.typed {
  display: flex;
  flex-wrap: wrap;
  gap: 5px 12px;
  align-items: center;
  padding: 4px 0;
  max-width: 40rem;
}
.number {
  width: 3.6rem;
}
.wide {
  width: 6rem;
}
</style>
