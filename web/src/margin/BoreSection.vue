<script setup lang="ts">
/** A bore cut across, at scale, with the cables that lie in it. */
import { packEnclose, packSiblings } from 'd3-hierarchy'
import { computed } from 'vue'
import type { PathwayPlan } from '@/api/schema'
import { useUnits } from '@/units/useUnits'

const props = defineProps<{ plan: PathwayPlan }>()
const units = useUnits()
const SIZE = 132
const bore = computed(() => (props.plan.bore_mm ?? 0) / 2)
/** Cables as they lie: packed, and fallen to the bottom. */
const cables = computed(() => {
  const packed = packSiblings(props.plan.ods_mm.map((od) => ({ r: od / 2, x: 0, y: 0 })))
  const all = packEnclose(packed)
  const down = Math.max(0, bore.value - all.r)
  return packed.map((one) => ({ r: one.r, x: one.x - all.x, y: one.y - all.y + down }))
})
const reach = computed(
  () => Math.max(bore.value, ...cables.value.map((one) => Math.hypot(one.x, one.y) + one.r)) * 1.06,
)
const says = computed(
  () => `${props.plan.ods_mm.length} cables in a bore of ${units.quantity(props.plan.bore_mm ?? 0, 'mm', 1)}`,
)
</script>

<template>
  <figure v-if="plan.bore_mm" class="section">
    <svg
      :width="SIZE"
      :height="SIZE"
      :viewBox="`${-reach} ${-reach} ${2 * reach} ${2 * reach}`"
      role="img"
      :aria-label="says"
    >
      <circle class="bore" :class="{ over: plan.fill && !plan.fill.ok }" :r="bore" :stroke-width="reach / 40" />
      <circle
        v-for="(one, n) in cables"
        :key="n"
        class="cable"
        :cx="one.x"
        :cy="one.y"
        :r="one.r * 0.96"
        :stroke-width="reach / 70"
      />
    </svg>
    <figcaption class="quiet">{{ says }}. Draw a cord in with them.</figcaption>
  </figure>
</template>

<style scoped>
.section {
  display: flex;
  gap: 10px;
  align-items: center;
  margin: 4px 0;
  font-size: 0.88rem;
}
.bore {
  fill: var(--paper);
  stroke: var(--ink);
}
.bore.over {
  stroke: var(--rust);
}
.cable {
  fill: var(--paper-raised);
  stroke: var(--tarn);
}
</style>
