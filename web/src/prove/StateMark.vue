<script setup lang="ts">
/** How something stands: a sign, a word, and a colour that agrees. */
import { computed } from 'vue'
import { STATES } from '@/prove/states'

const props = defineProps<{ state: string; none?: string }>()
const shown = computed(() => STATES[props.state] ?? ['', props.state, 'quiet'])
const words = computed(() => (props.state === 'none' && props.none ? props.none : shown.value[1]))
</script>

<template>
  <span :class="shown[2]" class="state"
    ><span aria-hidden="true">{{ shown[0] }}</span
    >{{ words }}</span
  >
</template>

<style scoped>
.state {
  display: inline-flex;
  gap: 5px;
}
</style>
