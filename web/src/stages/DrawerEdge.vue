<script setup lang="ts">
/** The upper edge of the drawer: dragged, or moved by the arrow keys, it says how high the drawer is. */
import { ref } from 'vue'
import { useView } from '@/job/useView'

const view = useView()
const [LEAST, MOST, STEP] = [0.18, 0.8, 0.04]
const held = ref(false)

function set(share: number): void {
  view.drawerShare = Math.min(MOST, Math.max(LEAST, share))
}
function grab(event: PointerEvent): void {
  held.value = true
  ;(event.currentTarget as HTMLElement).setPointerCapture(event.pointerId)
}
function drag(event: PointerEvent): void {
  const middle = held.value && (event.currentTarget as HTMLElement).closest('.middle')?.getBoundingClientRect()
  if (middle) set((middle.bottom - event.clientY) / middle.height)
}
</script>

<template>
  <div
    class="edge"
    :class="{ held }"
    role="separator"
    tabindex="0"
    aria-orientation="horizontal"
    aria-label="Height of the drawer"
    :aria-valuenow="Math.round(100 * view.drawerShare)"
    aria-valuemin="18"
    aria-valuemax="80"
    @pointerdown="grab"
    @pointermove="drag"
    @pointerup="held = false"
    @pointercancel="held = false"
    @keydown.up.prevent="set(view.drawerShare + STEP)"
    @keydown.down.prevent="set(view.drawerShare - STEP)"
    @dblclick="set(0.46)"
  />
</template>

<style scoped>
.edge {
  position: absolute;
  top: -4px;
  left: 0;
  right: 0;
  height: 8px;
  cursor: row-resize;
  touch-action: none;
  z-index: 2;
}
.edge:hover,
.edge.held,
.edge:focus-visible {
  background: color-mix(in srgb, var(--heather) 40%, transparent);
}
</style>
