<script setup lang="ts">
/** Which unit hangs where: matched by serial, label or port; settled by a person, with a blink to find it. */
import { computed, onMounted } from 'vue'
import { api, take } from '@/api/client'
import type { UnitMatch } from '@/api/schema'
import { useJob } from '@/job/useJob'
import { useSelection } from '@/job/useSelection'
import { useController } from '@/network/useController'
import { useUnits } from '@/units/useUnits'
import { useSuggestion } from '@/stages/actions/useSuggestion'
import { useView } from '@/job/useView'

const job = useJob()
const view = useView()
const selection = useSelection()
const controller = useController()
const { busy, suggest } = useSuggestion()
onMounted(() => {
  if (!controller.live) void controller.look()
})
const live = computed(() => controller.live)
const units = computed(() => new Map((live.value?.live.units ?? []).map((unit) => [unit.serial, unit])))
const open = computed(() => (live.value?.matched.matches ?? []).filter((match) => match.serial && !match.settled))
const free = computed(() => live.value?.matched.strangers ?? [])
const params = { path: { job_id: job.id } }
function settle(matches: readonly { element_id: string; serial: string; mac: string }[], label: string): void {
  const body = { units: matches.map(({ element_id, serial, mac }) => ({ element_id, serial, mac })) }
  void suggest(() => take(api.POST('/api/jobs/{job_id}/controller/units', { params, body })), label, 'All is settled.')
}
function give(match: UnitMatch, serial: string): void {
  const mac = units.value.get(serial)?.mac ?? ''
  settle([{ element_id: match.element_id, serial, mac }], `${match.label} is ${serial || 'nobody knows which'}`)
}
const show = useUnits()
function watts(serial: string): string {
  const unit = units.value.get(serial)
  const drawn = unit ? unit.gives_w || unit.draws_w : 0
  return drawn ? show.quantity(drawn, 'W', 0) : '–'
}
/** How fast each unit hangs on the network, told by the port at the other end. */
const speeds = computed(() => {
  const ports = [...units.value.values()].filter((unit) => unit.kind !== 'access-point').flatMap((unit) => unit.ports)
  return new Map(ports.filter((port) => port.up && port.beside).map((port) => [port.beside, port.mbps]))
})
const link = (serial: string): string =>
  speeds.value.has(serial) ? show.quantity(speeds.value.get(serial) ?? 0, 'Mb/s', 0) : '–'
function busiest(serial: string): string {
  const radios = units.value.get(serial)?.radios ?? []
  return radios.length ? `${Math.round(100 * Math.max(...radios.map((radio) => radio.busy)))} %` : '–'
}
const choices = (match: UnitMatch): string[] => {
  const model = [...units.value.values()].filter((unit) => unit.model === match.model).map((unit) => unit.serial)
  return [...new Set([match.serial, ...free.value, ...model])].filter(Boolean)
}
</script>

<template>
  <section class="panel" aria-label="Units">
    <p v-if="controller.said" class="fault lead" role="alert">▲ {{ controller.said }}</p>
    <p v-if="controller.connection && !controller.connection.connected" class="quiet lead">
      Connect a controller, or set up a simulated one: which unit hangs where is settled here.
      <button type="button" class="ink-button" @click="view.panel = 'Controller'">Controller</button>
    </p>
    <template v-else-if="live">
      <p class="head">
        <button
          v-if="open.length"
          type="button"
          class="ink-button primary"
          :disabled="busy"
          @click="settle(open, `Settle ${open.length} units`)"
        >
          Settle {{ open.length }} as matched
        </button>
        <span v-else class="holds">✓ every unit that is there is settled on the drawing</span>
        <span v-if="free.length" class="advice">◇ on no drawing: {{ free.join(', ') }}</span>
        <span v-for="twin in live.matched.twins" :key="twin" class="fault">▲ {{ twin }} twice</span>
      </p>
      <table class="plain-table">
        <thead>
          <tr>
            <th>On the drawing</th>
            <th>Unit</th>
            <th>Is</th>
            <th>Firmware</th>
            <th class="number">Draws</th>
            <th class="number">Link</th>
            <th class="number">Air busy</th>
            <th>Why this one</th>
            <td></td>
          </tr>
        </thead>
        <tbody>
          <tr
            v-for="match in live.matched.matches"
            :key="match.element_id"
            :class="{ chosen: selection.selected === match.element_id }"
          >
            <th scope="row">
              <button type="button" class="bare" :title="match.model" @click="selection.select(match.element_id)">
                {{ match.label }}
              </button>
            </th>
            <td>
              <select
                class="field mono"
                :value="match.serial"
                :aria-label="`Unit of ${match.label}`"
                :disabled="busy"
                @change="give(match, ($event.target as HTMLSelectElement).value)"
              >
                <option value="">not known</option>
                <option v-for="serial in choices(match)" :key="serial" :value="serial">{{ serial }}</option>
              </select>
            </td>
            <td :class="units.get(match.serial)?.phase === 'up' ? 'holds' : 'advice'">
              {{ units.get(match.serial)?.phase ?? '–' }}
            </td>
            <td class="mono">
              {{ units.get(match.serial)?.version ?? '–'
              }}<span v-if="units.get(match.serial)?.old" class="advice"> ◇ old</span>
            </td>
            <td class="mono">{{ watts(match.serial) }}</td>
            <td class="mono">{{ link(match.serial) }}</td>
            <td class="mono">{{ busiest(match.serial) }}</td>
            <td class="words">
              <span v-if="match.problem" class="fault">▲ {{ match.problem }}</span
              ><span v-else-if="match.settled" class="holds">✓ {{ match.why }}</span
              ><span v-else class="quiet">{{ match.why }}</span>
            </td>
            <td>
              <button
                v-if="match.serial"
                type="button"
                class="ink-button"
                :aria-pressed="units.get(match.serial)?.blinks"
                @click="controller.blink(match.serial, !units.get(match.serial)?.blinks)"
              >
                {{ units.get(match.serial)?.blinks ? 'Blinking' : 'Blink' }}
              </button>
            </td>
          </tr>
        </tbody>
      </table>
    </template>
  </section>
</template>

<style scoped>
.panel {
  overflow: auto;
}
.chosen {
  background: var(--heather-tint);
}
.words {
  max-width: 360px;
}
</style>
