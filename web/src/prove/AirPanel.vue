<script setup lang="ts">
/** The air as it was measured, space by space, and walks on a call. */
import { computed } from 'vue'
import { useSelection } from '@/job/useSelection'
import { useView } from '@/job/useView'
import BySign from '@/prove/BySign.vue'
import StateMark from '@/prove/StateMark.vue'
import { useProven } from '@/prove/useProven'
import { useUnits } from '@/units/useUnits'
import { numberOf } from '@/units/typed'

const proven = useProven()
const view = useView()
const units = useUnits()
const selection = useSelection()
const spaces = computed(() => proven.found?.spaces ?? [])
const walks = computed(() => proven.found?.walks ?? [])
function survey(): void {
  view.stage = 'air'
  view.drawer = true
  view.panel = 'Survey'
}
function walked(id: string, event: Event): void {
  const input = event.target as HTMLInputElement
  const breaks = numberOf(input.value)
  input.value = ''
  if (breaks === null || breaks < 0) return
  void proven.write({ kind: 'measured', subject: id, measured: { measured: 'walk', breaks: Math.round(breaks) } })
}
</script>

<template>
  <section class="panel" aria-label="Air and walks">
    <p class="lead head">
      <button type="button" class="ink-button" @click="survey">Read survey points, learn from them (stage 3)</button>
      <BySign />
    </p>
    <p v-if="!spaces.length" class="quiet lead">
      Nothing was measured yet. A survey is read in stage 3; here each space stands beside its prediction and its need.
    </p>
    <div class="beside">
      <table v-if="spaces.length" class="plain-table">
        <thead>
          <tr>
            <th>Space</th>
            <th class="number">Readings</th>
            <th class="number">Off prediction</th>
            <th class="number">Need met at</th>
            <th>Need</th>
            <th>State</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="space in spaces" :key="space.space_id">
            <th scope="row">
              <button type="button" class="bare label" @click="selection.select(space.space_id)">
                {{ space.label }}
              </button>
            </th>
            <td class="mono">{{ space.readings }}</td>
            <td class="mono" :class="{ fault: space.weak }">
              <span v-if="space.weak" aria-hidden="true">▲ </span>{{ units.quantity(space.off_db, 'dB', 1) }}
            </td>
            <td class="mono">{{ space.met }} of {{ space.places }}</td>
            <td class="quiet">
              {{ space.need_label
              }}<template v-if="space.need_dbm !== null">, {{ units.quantity(space.need_dbm, 'dBm', 0) }}</template>
            </td>
            <td><StateMark :state="space.weak || space.met < space.places ? 'differs' : 'holds'" /></td>
          </tr>
        </tbody>
      </table>
      <table v-if="walks.length" class="plain-table">
        <thead>
          <tr>
            <th>Walk on a call</th>
            <th class="number">Walked</th>
            <th>State</th>
            <th>By</th>
            <th>It broke, times</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="walk in walks" :key="walk.walk_id">
            <th scope="row">
              <button type="button" class="bare label" @click="selection.select(walk.walk_id)">{{ walk.label }}</button>
            </th>
            <td class="mono">{{ walk.walked }}</td>
            <td><StateMark :state="walk.state" none="not walked" /></td>
            <td>{{ walk.seen_by }}</td>
            <td>
              <input
                class="field number"
                inputmode="numeric"
                placeholder="0"
                :aria-label="`How often the call broke on ${walk.label}`"
                @change="walked(walk.walk_id, $event)"
              />
            </td>
          </tr>
        </tbody>
      </table>
    </div>
  </section>
</template>

<style scoped>
.panel {
  overflow: auto;
}
.head {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 14px;
  align-items: center;
}
.beside {
  display: flex;
  flex-wrap: wrap;
  gap: 10px 20px;
  align-items: flex-start;
}
.label {
  min-height: 24px;
}
.number {
  width: 3.6rem;
}
td.mono,
th.number {
  width: auto;
}
</style>
