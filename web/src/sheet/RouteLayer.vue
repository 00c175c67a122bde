<script setup lang="ts">
/** The way the energy takes round to the place whose sum is open, storey by storey. */
import { computed } from 'vue'
import { useView } from '@/job/useView'

const props = defineProps<{ k: number }>()
const view = useView()
const here = computed(() => view.route.filter((place) => place.storey_id === view.storey?.id))
const line = computed(() => here.value.map(({ at }, i) => `${i ? 'L' : 'M'}${at.x_m} ${at.y_m}`).join(''))
const end = computed(() => here.value.at(-1)?.at)
</script>

<template>
  <g v-if="here.length" class="route" role="img" aria-label="The way round that serves this place">
    <path :d="line" :stroke-width="5 / props.k" class="under" />
    <path :d="line" :stroke-width="2 / props.k" :stroke-dasharray="`${7 / props.k} ${4 / props.k}`" />
    <circle v-if="end" :cx="end.x_m" :cy="end.y_m" :r="4 / props.k" :stroke-width="1.6 / props.k" />
  </g>
</template>

<style scoped>
.route {
  fill: none;
  stroke: var(--ink);
  pointer-events: none;
}
.under {
  stroke: var(--paper);
  opacity: 0.75;
}
circle {
  fill: var(--paper);
}
</style>
