<script setup lang="ts">
/** The ports and radios of one model: how many, how fast, what they give and take, how loud. */
import { computed } from 'vue'
import { vDraft } from '@/ink/draft'
import type { Shown } from '@/stages/useOwnModels'

const props = defineProps<{ row: Shown }>()
const emit = defineEmits<{ set: [path: string, value: unknown] }>()
interface Figure {
  readonly path: string
  readonly name: string
  readonly unit: string
  readonly value: number
  readonly most?: number
}
interface Part {
  readonly key: string
  readonly title: string
  readonly figures: readonly Figure[]
}
const MEDIA: Readonly<Record<string, string>> = {
  copper: 'copper',
  cage: 'module cages',
  fibre: 'fibre',
  dc: 'DC',
  air: 'radio',
}
const parts = computed<Part[]>(() => [
  ...(props.row.model.ports ?? []).map((group, n) => ({
    key: `port ${n}`,
    title: group.name ? `Port ${group.name}` : `Ports, ${MEDIA[group.medium ?? 'copper'] ?? ''}`,
    figures: [
      ...(group.name
        ? []
        : [{ path: `ports.${n}.count`, name: 'How many', unit: '', value: group.count ?? 1, most: 1000 }]),
      { path: `ports.${n}.speed_mbps`, name: 'Speed', unit: 'Mb/s', value: group.speed_mbps ?? 0 },
      { path: `ports.${n}.gives_class`, name: 'Gives PoE class', unit: '', value: group.gives_class ?? 0, most: 8 },
      { path: `ports.${n}.takes_class`, name: 'Takes PoE class', unit: '', value: group.takes_class ?? 0, most: 8 },
    ],
  })),
  ...(props.row.model.bands ?? []).map((band, n) => ({
    key: `band ${band.band}`,
    title: `Radio ${band.band} GHz`,
    figures: [
      { path: `bands.${n}.gain_dbi`, name: 'Antenna', unit: 'dBi', value: band.gain_dbi },
      { path: `bands.${n}.max_dbm`, name: 'Most power', unit: 'dBm', value: band.max_dbm },
      { path: `bands.${n}.chains`, name: 'Chains', unit: '', value: band.chains, most: 16 },
    ],
  })),
])
function enter(figure: Figure, event: Event): void {
  const input = event.target as HTMLInputElement
  const value = Number(input.value.trim().replace(',', '.'))
  const good = input.value.trim() !== '' && Number.isFinite(value) && value >= 0 && value <= (figure.most ?? Infinity)
  if (good) emit('set', figure.path, value)
  else input.value = String(figure.value)
}
</script>

<template>
  <div class="parts">
    <fieldset v-for="part in parts" :key="part.key">
      <legend>{{ part.title }}</legend>
      <label v-for="figure in part.figures" :key="figure.path">
        <span class="quiet">{{ figure.name }}</span>
        <input
          v-draft="figure.value"
          class="field mono"
          inputmode="decimal"
          :aria-label="`${figure.name}, ${part.title}`"
          @change="enter(figure, $event)"
        />
        <span class="quiet mono">{{ figure.unit }}</span>
      </label>
    </fieldset>
    <p v-if="!parts.length" class="quiet">This model has neither ports nor radios.</p>
  </div>
</template>

<style scoped>
.parts {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 18px;
  padding: 4px 0 8px;
}
fieldset {
  border: 0;
  border-left: 1px solid var(--rule);
  margin: 0;
  padding: 0 0 0 10px;
  display: grid;
  gap: 3px;
}
legend {
  padding: 0;
  font-size: 0.9rem;
}
label {
  display: grid;
  grid-template-columns: 8rem 4.6rem 3rem;
  gap: 6px;
  align-items: baseline;
  font-size: 0.88rem;
}
input {
  text-align: right;
  width: 100%;
}
p {
  margin: 0;
}
</style>
