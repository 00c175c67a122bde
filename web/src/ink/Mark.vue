<script setup lang="ts">
/** Status as a mark: a shape first, a colour second. */
const SHAPES = { fault: '▲', warning: '◆', advice: '◇', holds: '✓', open: '○' } as const
defineProps<{ kind: keyof typeof SHAPES }>()
</script>

<template>
  <span class="mark" :class="kind" aria-hidden="true">{{ SHAPES[kind] }}</span>
</template>

<style scoped>
.mark {
  display: inline-block;
  width: 1em;
  text-align: center;
  font-size: 0.9em;
}
.open {
  color: var(--ink-quiet);
}
</style>
