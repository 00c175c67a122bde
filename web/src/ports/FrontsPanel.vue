<script setup lang="ts">
/** The fronts of what stands in a rack, as a person before it sees them: a cable is dragged from port to port. */
import { useEventListener } from '@vueuse/core'
import { computed, ref } from 'vue'
import type { Patch, PortPlan } from '@/api/schema'
import { api, take } from '@/api/client'
import { useAsked } from '@/job/useAsked'
import { useAssessment } from '@/job/useAssessment'
import { useJob } from '@/job/useJob'
import { useLibrary } from '@/job/useLibrary'
import { useSelection } from '@/job/useSelection'
import PortFront from '@/ports/PortFront.vue'
import { useCable, type Plug } from '@/ports/useCable'
import { speedWords } from '@/ports/words'

const job = useJob()
const library = useLibrary()
const selection = useSelection()
const assessment = useAssessment()
const params = { path: { job_id: job.id } }
const racks = useAsked(() => take(api.GET('/api/jobs/{job_id}/ports/racks', { params })))
const patches = useAsked(() => take(api.GET('/api/jobs/{job_id}/ports/patches', { params })))
const cable = useCable()
const chosen = ref('')
const rack = computed(() => {
  const all = racks.found.value?.racks ?? []
  return all.find((one) => one.elevation.rack_id === chosen.value) ?? all[0]
})
const ports = computed(() => {
  const by = new Map<string, PortPlan[]>()
  for (const port of assessment.found?.ports ?? []) by.set(port.switch_id, [...(by.get(port.switch_id) ?? []), port])
  return by
})
const landed = computed(() => {
  const by = new Map<string, Patch>()
  for (const one of patches.found.value?.racks ?? [])
    for (const patch of one.patches) if (patch.panel_id) by.set(`${patch.panel_id}/${patch.panel_port}`, patch)
  return by
})
const letters = computed(() => library.shelves?.cord_colours ?? {})
/** From the top unit down: what has ports here, each with its groups of alike ports. */
const fronts = computed(() =>
  (rack.value?.elevation.items ?? [])
    .toReversed()
    .map((item) => ({ item, groups: grouped(ports.value.get(item.element_id) ?? []), panel: panelOf(item.element_id) }))
    .filter((front) => front.groups.length || front.panel.length),
)
function grouped(mine: readonly PortPlan[]): { key: string; says: string; ports: PortPlan[] }[] {
  const found: { key: string; says: string; ports: PortPlan[] }[] = []
  for (const port of mine) {
    const key = `${port.speed_mbps} ${port.poe_class} ${port.uplink}`
    const says = `${speedWords(port.speed_mbps)}${port.poe_class ? `, class ${port.poe_class}` : port.uplink ? ', uplink' : ', no power'}`
    if (found.at(-1)?.key !== key) found.push({ key, says, ports: [] })
    found.at(-1)?.ports.push(port)
  }
  return found
}
function panelOf(id: string): { port: string; patch: Patch | undefined }[] {
  const element = job.elements.get(id)
  const model = element?.kind === 'equipment' ? library.shelves?.equipment[element.model] : undefined
  if (!model?.can.includes('lands_cables')) return []
  const count = model.ports.reduce((sum, group) => sum + group.count, 0)
  return Array.from({ length: count }, (_, n) => ({
    port: String(n + 1),
    patch: landed.value.get(`${id}/${String(n + 1)}`),
  }))
}
/** Two rows, read to the right and then below. */
function columns(count: number): { gridTemplateColumns: string } {
  return { gridTemplateColumns: `repeat(${Math.max(1, Math.ceil(count / 2))}, 42px)` }
}
function pick(port: PortPlan): void {
  selection.select(port.run_id ?? port.switch_id)
}
/** Enter takes a cable, or puts the held one here. */
function press(port: PortPlan): void {
  if (cable.held.value) cable.putOn(port)
  else if (port.run_id) {
    cable.take(port)
    pick(port)
  }
}
function portAt(event: PointerEvent): Plug | undefined {
  const under = document.elementFromPoint(event.clientX, event.clientY)?.closest<HTMLElement>('[data-port]')
  const [on, name] = [under?.dataset.switch, under?.dataset.port]
  return on ? ports.value.get(on)?.find((port) => port.port === name) : undefined
}
function drop(event: PointerEvent): void {
  const to = portAt(event)
  if (to && cable.held.value) cable.putOn(to)
  else cable.letGo()
}
// Wherever the pointer is let go, nothing stays in hand.
useEventListener(window, 'pointerup', drop)
useEventListener(window, 'pointercancel', cable.letGo)
/** Arrows go to the port beside, above or below as it is seen. */
function step(event: KeyboardEvent): void {
  const ways: Record<string, [number, number]> = {
    ArrowLeft: [-1, 0],
    ArrowRight: [1, 0],
    ArrowUp: [0, -1],
    ArrowDown: [0, 1],
  }
  const way = ways[event.key]
  const here = document.activeElement
  if (!way || !(here instanceof HTMLElement) || here.dataset.port === undefined) return
  event.preventDefault()
  event.stopPropagation()
  const from = here.getBoundingClientRect()
  const all = [...document.querySelectorAll<HTMLElement>('.front [data-port]')].filter((one) => one !== here)
  const score = (one: HTMLElement): number => {
    const to = one.getBoundingClientRect()
    const along = (to.x - from.x) * way[0] + (to.y - from.y) * way[1]
    const across = Math.abs((to.x - from.x) * way[1]) + Math.abs((to.y - from.y) * way[0])
    return along <= 1 ? Infinity : along + 3 * across
  }
  const best = all.reduce<HTMLElement | null>((a, b) => (!a || score(b) < score(a) ? b : a), null)
  if (best && score(best) < Infinity) best.focus()
}
</script>

<template>
  <section class="panel" aria-label="Fronts" @keydown="step" @keydown.esc="cable.letGo">
    <p v-if="racks.said.value" class="fault lead" role="alert">▲ {{ racks.said.value }}</p>
    <p v-if="racks.found.value && !fronts.length" class="quiet lead">
      Mark a rack on the sheet and add a switch: its front is drawn here, and cables are dragged from port to port.
    </p>
    <template v-else-if="rack">
      <p class="head">
        <label v-if="(racks.found.value?.racks.length ?? 0) > 1">
          Rack
          <select v-model="chosen" class="field">
            <option v-for="one in racks.found.value?.racks" :key="one.elevation.rack_id" :value="one.elevation.rack_id">
              {{ one.elevation.label }}
            </option>
          </select>
        </label>
        <span v-if="cable.held.value" role="status"
          >Holding {{ cable.held.value.run_label }}: put it on another port with <kbd>Enter</kbd>, <kbd>Esc</kbd> lets
          go.</span
        >
        <span v-else class="quiet"
          >Drag a cable to another port, or <kbd>Enter</kbd> on it and on the other; where one is already, the two
          trade.</span
        >
        <span class="key" aria-label="What the signs mean">
          <span v-for="(row, purpose) in letters" :key="purpose"
            ><b class="mono">{{ row.letter }}</b> {{ purpose }}</span
          >
          <span>■ decided</span><span>□ proposed</span><span class="fault">▲ under-fed</span>
        </span>
      </p>
      <div v-for="front in fronts" :key="front.item.element_id" class="front">
        <button type="button" class="bare name" @click="selection.select(front.item.element_id)">
          <b>{{ front.item.label }}</b>
          <span class="quiet">{{ front.item.unit === null ? '' : `U ${front.item.unit}, ` }}{{ front.item.what }}</span>
        </button>
        <div class="face">
          <div v-if="front.panel.length" class="group">
            <span class="quiet says">front, the cable behind each</span>
            <div class="cells" :style="columns(24)">
              <button
                v-for="one in front.panel"
                :key="one.port"
                type="button"
                class="landed"
                :class="{ free: !one.patch, chosen: one.patch && selection.selected === one.patch.run_id }"
                @click="selection.select(one.patch?.run_id ?? front.item.element_id)"
              >
                <span class="mono quiet">{{ one.port }}</span>
                <small>{{ one.patch?.run_label ?? '' }}</small>
                <span class="visually-hidden"
                  >Panel port {{ front.item.label }}/{{ one.port }},
                  {{ one.patch ? `to ${one.patch.to_label}` : 'free' }}</span
                >
              </button>
            </div>
          </div>
          <div v-for="group in front.groups" :key="group.ports[0]?.port" class="group">
            <span class="quiet says">{{ group.says }}</span>
            <div class="cells" :style="columns(group.ports.length)">
              <PortFront
                v-for="port in group.ports"
                :key="port.port"
                :port="port"
                :letter="letters[port.purpose]?.letter ?? ''"
                :held="cable.held.value?.switch_id === port.switch_id && cable.held.value.port === port.port"
                :chosen="port.run_id !== null && selection.selected === port.run_id"
                @grab="cable.take(port)"
                @press="press(port)"
                @pick="pick(port)"
              />
            </div>
          </div>
        </div>
      </div>
    </template>
  </section>
</template>

<style scoped>
.panel {
  padding-bottom: 8px;
}
.head {
  flex-wrap: wrap;
  row-gap: 2px;
  position: sticky;
  top: 0;
  z-index: 1;
  margin: 0 0 4px;
  padding: 4px 12px 2px;
  background: var(--paper-raised);
}
.key {
  display: flex;
  flex-wrap: wrap;
  gap: 0 10px;
  font-size: 0.85rem;
  color: var(--ink-quiet);
}
.front {
  display: grid;
  grid-template-columns: 118px 1fr;
  border: 1px solid var(--ink);
  margin: 0 12px 5px;
  background: var(--paper);
}
.name {
  display: flex;
  flex-direction: column;
  justify-content: center;
  padding: 2px 8px;
  border-right: 1px solid var(--rule);
  line-height: 1.15;
}
.name span {
  font-size: 0.78rem;
}
.face {
  display: flex;
  gap: 4px 14px;
  padding: 1px 8px 4px;
  flex-wrap: wrap;
}
.says {
  font-size: 0.75rem;
}
.cells {
  display: grid;
  gap: 2px;
}
.landed {
  position: relative;
  font: inherit;
  color: inherit;
  background: var(--paper-raised);
  border: 1px solid var(--rule);
  border-radius: 1px;
  padding: 0 2px;
  height: 30px;
  line-height: 1;
  text-align: left;
  cursor: pointer;
  overflow: hidden;
}
.landed .mono {
  display: block;
  font-size: 0.68rem;
}
.landed small {
  font-size: 0.68rem;
}
.landed.chosen {
  outline: 2px solid var(--heather);
}
</style>
