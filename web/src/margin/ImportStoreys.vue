<script setup lang="ts">
/** The storeys a drawing or a file's pages show: which are drawn, how they are called, how high they lie. */
import { computed } from 'vue'
import { useImport } from '@/job/useImport'
import { useUnits } from '@/units/useUnits'

const importing = useImport()
const units = useUnits()
const storeys = computed(() => importing.reading?.proposal.storeys ?? [])

function raise(index: number, event: Event): void {
  const row = importing.said[index]
  const input = event.target as HTMLInputElement
  const value = units.parseLength(input.value)
  if (row && value !== null) row.elevation_m = value
  else input.value = row?.elevation_m == null ? '' : units.quantity(row.elevation_m, 'm')
}
</script>

<template>
  <section v-if="storeys.length > 1" aria-label="Storeys found">
    <h3>{{ storeys.length }} storeys</h3>
    <ul>
      <li v-for="(storey, i) in storeys" :key="i">
        <input
          v-if="importing.said[i]"
          v-model="importing.said[i].take"
          type="checkbox"
          :aria-label="`Draw ${storey.label}`"
        />
        <input
          v-if="importing.said[i]"
          v-model="importing.said[i].label"
          class="field"
          maxlength="80"
          :aria-label="`Name of storey ${i + 1}`"
        />
        <input
          class="field height"
          :value="importing.said[i]?.elevation_m == null ? '' : units.quantity(importing.said[i].elevation_m, 'm')"
          :aria-label="`Height of storey ${i + 1}`"
          :title="storey.why"
          @change="raise(i, $event)"
        />
        <button
          type="button"
          class="ink-button"
          :aria-pressed="importing.shownStorey === i"
          @click="importing.shownStorey = i"
        >
          {{ importing.shownStorey === i ? 'shown' : 'show' }}
        </button>
        <span v-if="!importing.isSure(storey.certainty)" class="advice why">● {{ storey.why }}: check its height</span>
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
}
li {
  display: grid;
  grid-template-columns: auto minmax(0, 1fr) 4.6rem auto;
  gap: 5px;
  align-items: center;
}
.why {
  grid-column: 2 / -1;
  font-size: 0.82rem;
}
</style>
