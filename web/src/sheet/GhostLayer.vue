<script setup lang="ts">
/** Points a plan or a variant would have, drawn open beside those that stand. */
import { computed } from 'vue'
import { useJob } from '@/job/useJob'
import { useAirView } from '@/air/useAirView'
import { useView } from '@/job/useView'

const props = defineProps<{ k: number }>()
const job = useJob()
const view = useView()
const airView = useAirView()
const points = computed(() => {
  const variant = airView.compare ? job.elements.get(airView.compare.id) : undefined
  const all = airView.ghosts ?? (variant?.kind === 'variant' ? variant.points : [])
  return all.filter((point) => point.storey_id === view.storey?.id)
})
</script>

<template>
  <g v-if="points.length" class="ghosts" role="img" :aria-label="`${points.length} points that would be placed here`">
    <g
      v-for="point in points"
      :key="point.id"
      :transform="`translate(${point.at.x_m} ${point.at.y_m}) scale(${1 / props.k})`"
    >
      <path d="M-9 7 0 -9 9 7Z" /><text y="20">{{ point.label }}</text>
    </g>
  </g>
</template>

<style scoped>
.ghosts {
  pointer-events: none;
}
path {
  fill: var(--paper-raised);
  stroke: var(--heather);
  stroke-width: 1.8;
  stroke-dasharray: 4 2;
}
text {
  text-anchor: middle;
  font-size: 10.5px;
  fill: var(--heather);
  paint-order: stroke;
  stroke: var(--halo);
  stroke-width: 3px;
}
</style>
