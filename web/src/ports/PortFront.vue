<script setup lang="ts">
/** One port of a front: its number, the letter of its network, and how things stand by sign and word. */
import { computed } from 'vue'
import type { PortPlan } from '@/api/schema'
import { speedWords } from '@/ports/words'

const props = defineProps<{ port: PortPlan; letter: string; held: boolean; chosen: boolean }>()
const emit = defineEmits<{ grab: []; press: []; pick: [] }>()
const sign = computed(() => {
  if (!props.port.run_id) return ''
  if (!props.port.holds) return '▲'
  return props.port.decided ? '■' : '□'
})
const words = computed(() => {
  const { port } = props
  const gives = `${speedWords(port.speed_mbps)}${port.poe_class ? `, class ${port.poe_class}` : ', no power'}`
  if (!port.run_id) return `Port ${port.switch_label}/${port.port}, free, ${gives}`
  const fed = port.holds ? '' : `, under-fed: asks for class ${port.needs_class}`
  const slow = port.needs_mbps > port.speed_mbps ? `, slower than the ${speedWords(port.needs_mbps)} it could use` : ''
  return `Port ${port.switch_label}/${port.port}, ${port.run_label} to ${port.to_label}, ${port.purpose}, ${port.state}, ${gives}${fed}${slow}`
})
function grab(event: PointerEvent): void {
  if (event.button !== 0 || !props.port.run_id) return
  // The pointer is followed by whatever it is over: no port keeps it.
  if (event.target instanceof Element && event.target.hasPointerCapture(event.pointerId))
    event.target.releasePointerCapture(event.pointerId)
  emit('grab')
}
</script>

<template>
  <button
    type="button"
    class="port"
    :class="[port.purpose, { free: !port.run_id, held, chosen, bad: !port.holds }]"
    :data-port="port.port"
    :data-switch="port.switch_id"
    :title="words"
    :aria-pressed="held"
    @pointerdown="grab"
    @click="emit('pick')"
    @keydown.enter.prevent="emit('press')"
  >
    <span class="top"
      ><span class="mono">{{ port.port }}</span
      ><b class="mono">{{ port.run_id ? letter : '' }}</b
      ><span aria-hidden="true" :class="{ fault: !port.holds }">{{ sign }}</span></span
    >
    <small>{{ port.run_label }}</small>
    <span class="visually-hidden">{{ words }}</span>
  </button>
</template>

<style scoped>
.port {
  position: relative;
  font: inherit;
  color: var(--ink);
  background: var(--paper-raised);
  border: 1px solid var(--ink-quiet);
  border-radius: 1px;
  padding: 0 2px;
  width: 42px;
  height: 30px;
  line-height: 1.05;
  text-align: left;
  cursor: grab;
  overflow: hidden;
  touch-action: none;
}
.top {
  display: flex;
  justify-content: space-between;
  font-size: 0.7rem;
  white-space: nowrap;
}
small {
  font-size: 0.68rem;
  white-space: nowrap;
}
.free {
  border-style: dashed;
  border-color: var(--rule);
  color: var(--ink-quiet);
  cursor: default;
}
.port:hover,
.port:focus-visible {
  border-color: var(--heather);
}
.chosen,
.held {
  outline: 2px solid var(--heather);
}
.held {
  background: var(--heather-tint);
}
.bad {
  border-color: var(--rust);
}
/* Networks by hatch as well as by letter. */
.trunk {
  border-bottom: 3px solid var(--tarn);
}
.cameras {
  border-bottom: 3px dashed var(--tarn);
}
.voice {
  border-bottom: 3px dotted var(--tarn);
}
.things {
  border-bottom: 3px double var(--tarn);
}
</style>
