<script setup lang="ts">
/** A number opened to the sum it came from, with its formula and source. */
import { useView } from '@/job/useView'
import { digitsOf } from '@/units/units'
import { useUnits } from '@/units/useUnits'

const view = useView()
const units = useUnits()

/** As many decimals as the line of its unit that has most, so that the column lines up. */
function digits(unit: string): number {
  const alike = view.openSum?.lines.filter((line) => line.unit === unit) ?? []
  return Math.max(0, ...alike.map((line) => digitsOf(line.value)))
}
</script>

<template>
  <aside v-if="view.openSum" class="sum" aria-label="The sum behind a number">
    <header>
      <h2>{{ view.openSum.label }}</h2>
      <button type="button" class="bare quiet" aria-label="Close the sum" @click="view.openSum = null">✕</button>
    </header>
    <div class="lines">
      <table>
        <tbody>
          <tr v-for="(line, i) in view.openSum.lines" :key="i">
            <th scope="row">
              {{ line.label }}<small v-if="line.note" class="quiet">{{ units.sentence(line.note) }}</small>
            </th>
            <td class="mono">{{ units.quantity(line.value, line.unit, digits(line.unit)) }}</td>
          </tr>
        </tbody>
        <tfoot>
          <tr>
            <th scope="row">{{ view.openSum.formula }}</th>
            <td class="mono" :class="view.openSum.holds ? 'holds' : 'fault'">
              {{ units.quantity(view.openSum.value, view.openSum.unit) }}
            </td>
          </tr>
          <tr v-if="view.openSum.limit !== null && view.openSum.limit !== undefined">
            <th scope="row">limit</th>
            <td class="mono">{{ units.quantity(view.openSum.limit, view.openSum.unit) }}</td>
          </tr>
        </tfoot>
      </table>
    </div>
    <p class="quiet">{{ view.openSum.source }}</p>
  </aside>
</template>

<style scoped>
.sum {
  position: absolute;
  left: 12px;
  bottom: 12px;
  width: min(400px, calc(100% - 24px));
  max-height: calc(100% - 24px);
  display: flex;
  flex-direction: column;
  background: var(--paper-raised);
  border: 1px solid var(--ink);
  padding: 10px 14px;
  z-index: 5;
  box-shadow: 3px 3px 0 var(--rule);
}
header {
  display: flex;
  gap: 8px;
  justify-content: space-between;
}
.lines {
  overflow: auto;
}
table {
  border-collapse: collapse;
  width: 100%;
  font-size: 0.9rem;
  margin: 6px 0;
}
th {
  font-weight: 400;
  text-align: left;
  padding: 1px 10px 1px 0;
}
td {
  text-align: right;
  white-space: nowrap;
  vertical-align: top;
}
tfoot tr:first-child th,
tfoot tr:first-child td {
  border-top: 1px solid var(--ink);
  padding-top: 4px;
  font-weight: 600;
}
small {
  margin-left: 6px;
}
p {
  margin: 0;
  font-size: 0.84rem;
}
</style>
