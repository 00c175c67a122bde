<script setup lang="ts">
/** The walk that is played: its way on this storey, handovers and drops on it, and the walker. */
import { computed } from 'vue'
import { useAssessment } from '@/job/useAssessment'
import { useAirView } from '@/air/useAirView'
import { useView } from '@/job/useView'

const props = defineProps<{ k: number }>()
const view = useView()
const airView = useAirView()
const assessment = useAssessment()
const played = computed(() => assessment.found?.walks.find((w) => w.walk_id === airView.walk))
/** Samples of this storey as one path; a jump starts a new stretch. */
const path = computed(() => {
  let inside = false
  return (played.value?.samples ?? [])
    .map(({ storey_id, at }) => {
      const here = storey_id === view.storey?.id
      const step = here ? `${inside ? 'L' : 'M'}${at.x_m} ${at.y_m}` : ''
      inside = here
      return step
    })
    .join('')
})
const moves = computed(() => played.value?.handovers.filter((h) => h.storey_id === view.storey?.id) ?? [])
const drops = computed(() => played.value?.drops.filter((d) => d.storey_id === view.storey?.id) ?? [])
const walker = computed(() => {
  const sample = played.value?.samples[airView.walkStep]
  return sample?.storey_id === view.storey?.id ? sample : undefined
})
</script>

<template>
  <g v-if="played" class="walk" role="img" :aria-label="`The walk ${played.label}`">
    <path :d="path" class="under" :stroke-width="6 / props.k" /><path :d="path" :stroke-width="2.2 / props.k" />
    <g
      v-for="move in moves"
      :key="move.at_s"
      :transform="`translate(${move.at.x_m} ${move.at.y_m}) scale(${1 / props.k})`"
    >
      <rect x="-4" y="-4" width="8" height="8" transform="rotate(45)" /><text y="-9">{{ move.joined }}</text>
    </g>
    <text
      v-for="drop in drops"
      :key="drop.from_s"
      class="drop"
      :transform="`translate(${drop.at.x_m} ${drop.at.y_m}) scale(${1 / props.k})`"
      >▲ drop</text
    >
    <circle
      v-if="walker"
      class="walker"
      :cx="walker.at.x_m"
      :cy="walker.at.y_m"
      :r="7 / props.k"
      :stroke-width="2.4 / props.k"
    />
  </g>
</template>

<style scoped>
.walk {
  pointer-events: none;
}
path {
  fill: none;
  stroke: var(--tarn);
  stroke-linejoin: round;
}
.under {
  stroke: var(--paper);
  opacity: 0.7;
}
rect {
  fill: var(--paper-raised);
  stroke: var(--tarn);
  stroke-width: 1.6;
}
text {
  text-anchor: middle;
  font-size: 10.5px;
  fill: var(--tarn);
  paint-order: stroke;
  stroke: var(--halo);
  stroke-width: 3px;
}
.drop {
  fill: var(--rust);
  font-weight: 700;
}
.walker {
  fill: var(--paper-raised);
  stroke: var(--heather);
}
</style>
