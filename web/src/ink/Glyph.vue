<script setup lang="ts">
import { GLYPHS } from '@/ink/glyphs'

defineProps<{ name: string; size?: number }>()
</script>

<template>
  <svg :width="size ?? 16" :height="size ?? 16" viewBox="0 0 16 16" aria-hidden="true" class="glyph">
    <path :d="GLYPHS[name] ?? ''" />
  </svg>
</template>

<style scoped>
.glyph {
  fill: none;
  stroke: currentColor;
  stroke-width: 1.3;
  stroke-linejoin: round;
  stroke-linecap: round;
  flex: none;
  vertical-align: -3px;
}
</style>
