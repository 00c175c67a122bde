<script setup lang="ts">
/** What the tester said of a run: no record, not done. */
import { reactive } from 'vue'
import type { CableTest, Task } from '@/api/schema'
import { numberOf } from '@/units/typed'

const props = defineProps<{ task: Task }>()
const emit = defineEmits<{ keep: [test: CableTest] }>()
const typed = reactive({ wires: '', length: '', odd: '' })
/** As the task says it is tested; what is not said is left for the desk. */
const configuration = (['modular-plug link', 'permanent link'] as const).find((one) => props.task.text.includes(one))
function keep(verdict: 'pass' | 'fail'): void {
  const wires = typed.wires.replace(/\s/g, '').toLowerCase()
  if (wires && !/^[1-8xs]{8}$/.test(wires)) {
    typed.odd = 'Eight signs: 1 to 8, x for nowhere, s for joined.'
    return
  }
  typed.odd = ''
  const length = numberOf(typed.length)
  emit('keep', {
    measured: 'test',
    configuration: configuration ?? 'fibre link',
    test_class: '',
    verdict,
    wire_map: wires,
    split: false,
    site: '',
    tester: '',
    readings: length === null ? [] : [{ quantity: 'length', pair: '', f_mhz: null, value: length }],
    curves: [],
  })
  typed.wires = typed.length = ''
}
</script>

<template>
  <section aria-label="Test">
    <div class="two">
      <label>Length, m <input v-model="typed.length" class="entry" inputmode="decimal" autocomplete="off" /></label>
      <label v-if="configuration"
        >Wire map <input v-model="typed.wires" class="entry" maxlength="8" placeholder="12345678" autocomplete="off"
      /></label>
    </div>
    <p v-if="typed.odd" class="fault" role="alert">▲ {{ typed.odd }}</p>
    <div class="two">
      <button type="button" class="big primary" @click="keep('pass')">It passes</button>
      <button type="button" class="big" @click="keep('fail')">It fails</button>
    </div>
  </section>
</template>

<style scoped>
section,
label {
  display: grid;
  gap: 8px;
}
.two {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px;
}
p {
  margin: 0;
}
</style>
