<script setup lang="ts">
/** A pathway that is proposed, on its storey. */
import { computed } from 'vue'
import { useView } from '@/job/useView'
import { useProposed } from '@/runs/useProposed'

const props = defineProps<{ k: number }>()
const view = useView()
const proposed = useProposed()
const path = computed(() =>
  proposed.shown && proposed.shown.storey_id === view.storey?.id
    ? proposed.shown.path.map((p) => `${p.x_m},${p.y_m}`).join(' ')
    : '',
)
const px = (value: number): number => value / props.k
</script>

<template>
  <g v-if="path">
    <polyline class="band" :points="path" :stroke-width="px(9)" />
    <polyline class="middle" :points="path" :stroke-width="px(2)" :stroke-dasharray="`${px(6)} ${px(4)}`" />
  </g>
</template>

<style scoped>
polyline {
  fill: none;
  pointer-events: none;
}
.band {
  stroke: var(--heather);
  opacity: 0.25;
}
.middle {
  stroke: var(--heather);
}
</style>
