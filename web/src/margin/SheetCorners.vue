<script setup lang="ts">
/** The four corners of a photographed sheet: dragged, or moved by arrow keys, to where the sheet's own are. */
import Dialog from 'primevue/dialog'
import { computed, ref, watch } from 'vue'
import { useImport, type Corners } from '@/job/useImport'

const visible = defineModel<boolean>('visible', { required: true })
const importing = useImport()
const NAMES = ['upper left', 'upper right', 'lower right', 'lower left'] as const
const STEP = 0.005
const whole: Corners = [
  [0.02, 0.02],
  [0.98, 0.02],
  [0.98, 0.98],
  [0.02, 0.98],
]
const at = ref<Corners>(whole)
const frame = ref<HTMLElement | null>(null)
/** The corner in hand, and how far from its middle it was taken hold of. */
const held = ref<{ index: number; offX: number; offY: number } | null>(null)
/** A frame without its picture has no size: corners stand nowhere until it is there. */
const shown = ref(false)
watch(visible, (open) => {
  if (!open) return
  shown.value = false
  at.value = importing.reading?.corners ?? whole
})
const outline = computed(() => at.value.map(([x, y]) => `${x * 100},${y * 100}`).join(' '))

function put(index: number, x: number, y: number): void {
  const clip = (n: number) => Math.min(1, Math.max(0, n))
  at.value = at.value.map((corner, i) => (i === index ? [clip(x), clip(y)] : corner)) as Corners
}
function place(event: PointerEvent): [number, number] {
  const box = frame.value?.getBoundingClientRect()
  return box ? [(event.clientX - box.left) / box.width, (event.clientY - box.top) / box.height] : [0, 0]
}
function take(index: number, event: PointerEvent): void {
  const corner = at.value[index]
  if (!corner) return
  const [x, y] = place(event)
  held.value = { index, offX: corner[0] - x, offY: corner[1] - y }
  frame.value?.setPointerCapture(event.pointerId)
}
function drag(event: PointerEvent): void {
  if (held.value === null) return
  const [x, y] = place(event)
  put(held.value.index, x + held.value.offX, y + held.value.offY)
}
function nudge(index: number, event: KeyboardEvent): void {
  const way = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.key]
  const corner = at.value[index]
  if (!way || !corner) return
  event.preventDefault()
  const step = event.shiftKey ? STEP * 5 : STEP
  put(index, corner[0] + (way[0] ?? 0) * step, corner[1] + (way[1] ?? 0) * step)
}
function straighten(): void {
  visible.value = false
  void importing.ask({ corners: at.value })
}
</script>

<template>
  <Dialog v-model:visible="visible" modal :draggable="false" header="Corners of the sheet" :style="{ width: '52rem' }">
    <p class="quiet">
      Drag each corner to a corner of the sheet, or move it with the arrow keys. What lies between is straightened and
      read again.
    </p>
    <div ref="frame" class="frame" @pointermove="drag" @pointerup="held = null" @pointercancel="held = null">
      <img :src="importing.original ?? ''" alt="The picture as it was sent" draggable="false" @load="shown = true" />
      <svg viewBox="0 0 100 100" preserveAspectRatio="none" aria-hidden="true"><polygon :points="outline" /></svg>
      <button
        v-for="(corner, i) in shown ? at : []"
        :key="i"
        type="button"
        class="corner"
        :style="{ left: `${corner[0] * 100}%`, top: `${corner[1] * 100}%` }"
        :aria-label="`Corner ${NAMES[i]}`"
        @pointerdown.prevent="take(i, $event)"
        @keydown="nudge(i, $event)"
      />
    </div>
    <div class="act">
      <button type="button" class="ink-button primary" @click="straighten">Straighten and read again</button>
      <button type="button" class="ink-button" @click="at = whole">The whole picture</button>
    </div>
  </Dialog>
</template>

<style scoped>
p {
  margin: 0 0 8px;
}
.frame {
  position: relative;
  width: fit-content;
  margin: 0 auto;
  touch-action: none;
  user-select: none;
}
img {
  display: block;
  max-width: 100%;
  max-height: 58vh;
}
svg {
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
}
polygon {
  fill: color-mix(in srgb, var(--heather) 12%, transparent);
  stroke: var(--heather);
  stroke-width: 2;
  vector-effect: non-scaling-stroke;
}
.corner {
  position: absolute;
  width: 26px;
  height: 26px;
  margin: -13px 0 0 -13px;
  border: 2px solid var(--heather);
  background: color-mix(in srgb, var(--paper-raised) 45%, transparent);
  border-radius: 50%;
  cursor: grab;
}
.corner:focus-visible {
  outline: 3px solid var(--gorse);
}
.act {
  display: flex;
  gap: 8px;
  margin-top: 10px;
}
</style>
