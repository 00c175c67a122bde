<script setup lang="ts">
/** What stands at a place, as map symbols that keep their size; each can be reached by keyboard. */
import { computed } from 'vue'
import { GLYPHS } from '@/ink/glyphs'
import { useAssessment } from '@/job/useAssessment'
import { useJob } from '@/job/useJob'
import { useLibrary } from '@/job/useLibrary'
import { useAirView } from '@/air/useAirView'
import { useSelection } from '@/job/useSelection'
import { useView } from '@/job/useView'
import { atOf, isStanding, modelOf, type Standing } from '@/job/types'
import { storeyOf } from '@/sheet/elements'
import { placeLabels, textBox } from '@/sheet/labels'
import { useSpaceNames } from '@/sheet/useSpaceNames'

const props = defineProps<{ k: number; held: Standing | null }>()
const emit = defineEmits<{ grab: [event: PointerEvent, element: Standing]; press: [element: Standing] }>()
const job = useJob()
const view = useView()
const selection = useSelection()
const airView = useAirView()
const library = useLibrary()
const assessment = useAssessment()

const things = computed(() =>
  job.all
    .filter(isStanding)
    .filter((e) =>
      'from_storey_id' in e ? spans(e.from_storey_id, e.to_storey_id) : storeyOf(e, job.elements) === view.storey?.id,
    ),
)
function spans(from: string, to: string): boolean {
  const order = view.storeys.map((s) => s.id)
  const [low, high] = [order.indexOf(from), order.indexOf(to)].toSorted((a, b) => a - b)
  const at = order.indexOf(view.storey?.id ?? '')
  return low !== undefined && high !== undefined && at >= low && at <= high
}
const channels = computed(() => {
  const by = new Map<string, string>()
  for (const row of assessment.found?.radios ?? [])
    if (row.band === airView.band && row.channel) by.set(row.point_id, `${row.channel}\u00b7${row.width_mhz}`)
  return by
})
function glyph(element: Standing): string {
  return library.model(modelOf(element))?.sign ?? library.about(element.kind).sign
}
function at(element: Standing) {
  return atOf(props.held?.id === element.id ? props.held : element) ?? { x_m: 0, y_m: 0 }
}
function name(element: Standing): string {
  return `${element.label}, ${library.model(modelOf(element))?.label ?? library.about(element.kind).noun}`
}
const big = computed(() => props.k > 9)
const spaces = useSpaceNames(() => props.k)
/** Labels of access points where they run over neither the names of spaces nor each other. */
const labels = computed(() => {
  const named = things.value
    .filter((e) => e.kind === 'access-point')
    .map((e) => ({
      id: e.id,
      x: at(e).x_m * props.k,
      y: at(e).y_m * props.k,
      lines: [e.label, channels.value.get(e.id) ?? 'off'],
    }))
  const taken = spaces.value
    .filter((s) => s.lines.length)
    .map((s) => textBox(s.x * props.k, s.y * props.k, s.tall ? [...s.lines, ''] : s.lines))
  return placeLabels(named, taken)
})
</script>

<template>
  <g>
    <g
      v-for="element in things"
      :key="element.id"
      :class="{ chosen: selection.selected === element.id }"
      :transform="`translate(${at(element).x_m} ${at(element).y_m}) scale(${1 / k})`"
    >
      <g
        class="thing"
        :class="element.kind"
        data-grip
        role="button"
        tabindex="0"
        :aria-label="name(element)"
        :data-label="element.label"
        @mousedown="view.tool !== 'select' && $event.preventDefault()"
        @pointerdown="emit('grab', $event, element)"
        @click.stop="view.tool === 'select' ? selection.select(element.id) : emit('press', element)"
        @focus="view.tool === 'select' && selection.select(element.id)"
        @keydown.enter.stop="view.tool === 'select' ? selection.select(element.id) : emit('press', element)"
      >
        <circle class="ring" r="15" />
        <g
          :transform="element.kind === 'equipment' ? 'translate(-6 -6) scale(.75)' : 'translate(-9 -9.5) scale(1.125)'"
        >
          <path :d="GLYPHS[glyph(element)] ?? ''" />
        </g>
      </g>
      <template v-if="element.kind === 'access-point' && big">
        <g
          :transform="`translate(${labels.get(element.id)?.dx ?? 0} ${labels.get(element.id)?.dy ?? 20})`"
          :style="{ textAnchor: labels.get(element.id)?.anchor ?? 'middle' }"
        >
          <text class="name">{{ element.label }}</text>
          <text class="mono channel" y="11">{{ channels.get(element.id) ?? 'off' }}</text>
        </g>
      </template>
      <text v-else-if="selection.selected === element.id || k > 45" class="name alone" y="20">{{ element.label }}</text>
    </g>
  </g>
</template>

<style scoped>
.thing {
  cursor: grab;
  outline: none;
}
.thing path {
  fill: var(--paper-raised);
  stroke: var(--ink);
  stroke-width: 1.4;
  stroke-linejoin: round;
  stroke-linecap: round;
}
.thing.equipment path {
  stroke: var(--tarn);
}
.thing.rack path,
.thing.riser path,
.thing.service-entry path {
  stroke: var(--tarn);
}
.ring {
  fill: transparent;
  stroke: none;
}
.chosen .ring,
.thing:focus-visible .ring {
  stroke: var(--heather);
  stroke-width: 2;
  stroke-dasharray: 3 2.5;
}
.chosen path {
  stroke: var(--heather) !important;
}
text {
  font-size: 11px;
  fill: var(--ink);
  paint-order: stroke;
  stroke: var(--halo);
  stroke-width: 3px;
  stroke-linejoin: round;
  pointer-events: none;
}
.name {
  font-weight: 700;
}
.alone {
  text-anchor: middle;
}
.channel {
  font-size: 10.5px;
}
</style>
