<script setup lang="ts">
/** A number that opens to the sum it came from; past its limit it carries the mark. */
import { computed } from 'vue'
import type { Sum } from '@/api/schema'
import { useView } from '@/job/useView'
import { useUnits } from '@/units/useUnits'

const props = defineProps<{ sum: Sum; digits?: number; plain?: boolean }>()
const view = useView()
const units = useUnits()
const text = computed(() => units.quantity(props.sum.value, props.sum.unit, props.digits))
</script>

<template>
  <button
    type="button"
    class="bare sum-link mono"
    :class="{ fault: !sum.holds && !plain }"
    :aria-label="`${sum.label} ${text}: open the sum`"
    @click.stop="view.openSum = sum"
  >
    <span v-if="!sum.holds && !plain" aria-hidden="true">▲ </span>{{ text }}
  </button>
</template>

<style scoped>
.sum-link {
  white-space: nowrap;
}
</style>
