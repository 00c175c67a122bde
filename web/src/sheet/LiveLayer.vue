<script setup lang="ts">
/** The live network on the sheet: the state of every unit in a word, how many phones are on it, and where they walk. */
import { computed } from 'vue'
import { atOf } from '@/job/types'
import { useJob } from '@/job/useJob'
import { useView } from '@/job/useView'
import { useController } from '@/network/useController'
import { storeyOf } from '@/sheet/elements'

const props = defineProps<{ k: number }>()
const job = useJob()
const view = useView()
const controller = useController()
const px = (value: number): number => value / props.k
const storey = computed(() => view.storeys.findIndex((one) => one.id === view.storey?.id))
const marks = computed(() => {
  const units = new Map((controller.live?.live.units ?? []).map((unit) => [unit.serial, unit]))
  return (controller.live?.matched.matches ?? []).flatMap((match) => {
    const element = job.elements.get(match.element_id)
    const at = atOf(element)
    const unit = units.get(match.serial)
    if (!element || !at || !unit || storeyOf(element, job.elements) !== view.storey?.id) return []
    const up = unit.phase === 'up'
    return [
      {
        id: match.element_id,
        x: at.x_m,
        y: at.y_m,
        up,
        says: up ? `✓ ${unit.people}` : `▲ ${unit.phase}`,
        blinks: unit.blinks,
      },
    ]
  })
})
const people = computed(() => controller.people.filter((person) => person.storey === storey.value))
</script>

<template>
  <g v-if="controller.watching && controller.live" class="live">
    <circle
      v-for="(person, n) in people"
      :key="n"
      :class="person.serial ? 'on' : 'off'"
      :cx="person.x_m"
      :cy="person.y_m"
      :r="px(1.8)"
      :stroke-width="px(0.9)"
    />
    <g v-for="mark in marks" :key="mark.id" :class="mark.up ? 'up' : 'down'">
      <circle
        v-if="!mark.up || mark.blinks"
        :cx="mark.x"
        :cy="mark.y"
        :r="px(13)"
        :stroke-width="px(mark.blinks ? 3 : 1.8)"
        class="ring"
      />
      <text :x="mark.x + px(12)" :y="mark.y - px(9)" :font-size="px(11)" :stroke-width="px(3)">{{ mark.says }}</text>
    </g>
  </g>
</template>

<style scoped>
.live {
  pointer-events: none;
}
.on {
  fill: var(--tarn);
  stroke: none;
}
.off {
  fill: none;
  stroke: var(--rust);
}
.ring {
  fill: none;
}
.up .ring {
  stroke: var(--heather);
}
.down .ring {
  stroke: var(--rust);
}
text {
  font-family: var(--mono, monospace);
  font-weight: 700;
  paint-order: stroke;
  stroke: var(--paper);
}
.up text {
  fill: var(--moss);
}
.down text {
  fill: var(--rust);
}
</style>
