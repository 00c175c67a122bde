<script setup lang="ts">
/** The divider between two designs on one sheet: the present one to the left, the variant to the right. */
import { computed } from 'vue'
import { useJob } from '@/job/useJob'
import { useAirView } from '@/air/useAirView'

const props = defineProps<{ width: number }>()
const job = useJob()
const airView = useAirView()
const name = computed(() => job.elements.get(airView.compare?.id ?? '')?.label ?? '')
function drag(event: PointerEvent): void {
  const target = event.currentTarget as HTMLElement
  if (target.hasPointerCapture(event.pointerId))
    move((event.clientX - (target.parentElement?.getBoundingClientRect().left ?? 0)) / props.width)
}
function move(share: number): void {
  airView.split = Math.min(0.95, Math.max(0.05, share))
}
</script>

<template>
  <div
    class="split"
    role="slider"
    tabindex="0"
    aria-label="Divider between the design and the variant"
    :aria-valuenow="Math.round(airView.split * 100)"
    aria-valuemin="5"
    aria-valuemax="95"
    :style="{ left: `${airView.split * 100}%` }"
    @pointerdown.stop="($event.currentTarget as HTMLElement).setPointerCapture($event.pointerId)"
    @pointermove.stop="drag"
    @click.stop
    @keydown.left.prevent.stop="move(airView.split - 0.05)"
    @keydown.right.prevent.stop="move(airView.split + 0.05)"
  >
    <span class="left">design</span><span class="right">{{ name }}</span>
  </div>
</template>

<style scoped>
.split {
  position: absolute;
  top: 0;
  bottom: 0;
  width: 11px;
  margin-left: -5px;
  cursor: ew-resize;
  background: linear-gradient(90deg, transparent 4px, var(--ink) 4px 6px, transparent 6px);
  touch-action: none;
}
span {
  position: absolute;
  top: 46px;
  font-size: 0.86rem;
  background: var(--halo);
  padding: 1px 6px;
  white-space: nowrap;
  pointer-events: none;
}
.left {
  right: 12px;
}
.right {
  left: 12px;
}
</style>
