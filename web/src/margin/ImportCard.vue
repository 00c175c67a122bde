<script setup lang="ts">
/** The import at hand: what was understood, how layers and scale are meant, accept or leave. */
import { computed, ref } from 'vue'
import type { ImportAsked } from '@/api/schema'
import { useImport } from '@/job/useImport'
import { useView } from '@/job/useView'
import { useUnits } from '@/units/useUnits'

type Role = NonNullable<ImportAsked['roles']>[string]
const ROLES: readonly Role[] = ['wall', 'door', 'window', 'text', 'ignore']
const importing = useImport()
const view = useView()
const units = useUnits()
const by = ref<'door' | 'length' | 'print' | 'unit'>('length')
const shown = ref('')
const truth = ref('')
const printed = ref('100')
const paper = ref<'A0' | 'A1' | 'A2' | 'A3' | 'A4'>('A3')
const unit = ref(0.001)
const UNITS: readonly (readonly [number, string])[] = [
  [0.001, 'millimetres'],
  [0.01, 'centimetres'],
  [1, 'metres'],
  [0.0254, 'inches'],
  [0.3048, 'feet'],
]
const state = computed(() => importing.state)
const reading = computed(() => importing.reading)
const storeys = computed(() => reading.value?.proposal.storeys ?? [])
const size = computed(() => {
  const points = importing.storey?.walls.flatMap((w) => [w.a, w.b]) ?? []
  if (!points.length) return ''
  const span = (pick: (p: { x_m: number; y_m: number }) => number) =>
    Math.max(...points.map(pick)) - Math.min(...points.map(pick))
  return `${units.quantity(
    span((p) => p.x_m),
    'm',
  )} by ${units.quantity(
    span((p) => p.y_m),
    'm',
  )}`
})

function setRole(name: string, event: Event): void {
  const role = (event.target as HTMLSelectElement).value as Role
  const roles = Object.fromEntries((reading.value?.layers ?? []).map((layer) => [layer.name, layer.role as Role]))
  void importing.ask({ roles: { ...roles, [name]: role } })
}
function setScale(): void {
  const length = (text: string) => units.parseLength(text)
  const none = { metres_per_unit: null, shown_m: null, true_m: null, door_m: null, printed: null, paper: null }
  const said = {
    length: { shown_m: length(shown.value), true_m: length(truth.value) },
    door: { door_m: length(truth.value) },
    print: { printed: Number(printed.value), paper: paper.value },
    unit: { metres_per_unit: unit.value },
  }[by.value]
  if (Object.values(said).some((value) => value === null || (typeof value === 'number' && !(value > 0)))) {
    importing.error = 'A length or a scale is a number above zero, like 3.5. Nothing was changed.'
    return
  }
  void importing.ask({ scale: { ...none, ...said } })
}
</script>

<template>
  <section v-if="state || importing.sending || importing.error" class="card" aria-label="Import">
    <header>
      <h2>{{ state ? `Import ${state.name}` : 'Import' }}</h2>
    </header>
    <p v-if="importing.error" class="fault" role="alert">▲ {{ importing.error }}</p>
    <p v-if="importing.sending" role="status">Sending the file…</p>
    <template v-if="state?.state === 'running'">
      <p role="status">{{ state.doing }}</p>
      <progress :value="state.share" max="1" :aria-label="state.doing" />
      <button type="button" class="ink-button" @click="importing.leave()">Stop</button>
    </template>
    <template v-else-if="state?.state === 'failed'">
      <p class="fault" role="alert">▲ {{ state.doing }} Nothing was changed.</p>
      <button type="button" class="ink-button" @click="importing.leave()">Put it away</button>
    </template>
    <template v-else-if="reading">
      <p class="quiet facts">
        {{ size }} · {{ reading.unit }}<template v-if="!reading.scale_known"> · scale not stated</template>
      </p>
      <p v-for="note in reading.proposal.notes" :key="note" class="advice note">● {{ note }}</p>
      <label v-if="storeys.length > 1" class="row"
        ><span>Storey shown</span>
        <select v-model.number="importing.shownStorey" class="field" aria-label="Storey shown">
          <option v-for="(s, i) in storeys" :key="i" :value="i">{{ s.label }} · {{ s.elevation_m }} m</option>
        </select>
      </label>
      <label v-if="reading.pages > 1" class="row"
        >Page
        <select
          class="field"
          :value="importing.page"
          aria-label="Page of the file"
          @change="importing.ask({ page: Number(($event.target as HTMLSelectElement).value) })"
        >
          <option v-for="n in reading.pages" :key="n" :value="n">{{ n }} of {{ reading.pages }}</option>
        </select>
      </label>
      <details v-if="reading.layers.length" open>
        <summary>Layers</summary>
        <div class="layers">
          <template v-for="layer in reading.layers" :key="layer.name">
            <span :title="`${layer.lines} lines, ${layer.marks} blocks, ${layer.texts} texts`"
              >{{ layer.name }} <span class="mono quiet">{{ layer.lines + layer.marks + layer.texts }}</span></span
            >
            <select
              class="field"
              :value="layer.role"
              :aria-label="`Layer ${layer.name} holds`"
              @change="setRole(layer.name, $event)"
            >
              <option v-for="role in ROLES" :key="role">{{ role }}</option>
            </select>
          </template>
        </div>
      </details>
      <details v-if="reading.kind !== 'ifc'" :open="!reading.scale_known">
        <summary>Scale</summary>
        <div class="scale">
          <select v-model="by" class="field" aria-label="Scale by">
            <option value="length">by a known length</option>
            <option value="door">by the width of a door</option>
            <option value="print">by printed scale</option>
            <option v-if="reading.kind !== 'picture'" value="unit">by unit</option>
          </select>
          <template v-if="by === 'length'"
            ><input
              v-model="shown"
              class="field"
              placeholder="shown, m"
              aria-label="Length as shown"
              inputmode="decimal" /><input
              v-model="truth"
              class="field"
              placeholder="true, m"
              aria-label="True length"
              inputmode="decimal"
          /></template>
          <input
            v-if="by === 'door'"
            v-model="truth"
            class="field"
            placeholder="0.9"
            aria-label="True width of a door"
            inputmode="decimal"
          />
          <template v-if="by === 'print'"
            ><span>1 : <input v-model="printed" class="field" aria-label="Printed scale" inputmode="numeric" /></span
            ><select v-model="paper" class="field" aria-label="Paper">
              <option v-for="p in ['A0', 'A1', 'A2', 'A3', 'A4']" :key="p">{{ p }}</option>
            </select></template
          >
          <select v-if="by === 'unit'" v-model.number="unit" class="field" aria-label="Unit">
            <option v-for="[per, name] in UNITS" :key="per" :value="per">{{ name }}</option>
          </select>
          <button type="button" class="ink-button" @click="setScale">Set</button>
        </div>
      </details>
      <details v-if="reading.proposal.skipped.length">
        <summary>Left out: {{ reading.proposal.skipped.length }}</summary>
        <ul>
          <li v-for="(s, i) in reading.proposal.skipped" :key="i">{{ s.count }} × {{ s.what }}: {{ s.why }}</li>
        </ul>
      </details>
      <p class="quiet note">Press a pencil wall to leave it out, a room to leave its walls out.</p>
      <div class="act">
        <button
          type="button"
          class="ink-button primary"
          :disabled="!importing.kept.walls && !importing.kept.spaces"
          @click="importing.accept()"
        >
          Accept {{ importing.kept.walls }} walls, {{ importing.kept.openings }} openings,
          {{ importing.kept.spaces }} spaces
        </button>
        <button type="button" class="ink-button" @click="importing.leave()">Leave it</button>
      </div>
      <p v-if="reading.kind !== 'ifc'" class="quiet note">Goes onto {{ view.storey?.label ?? 'a storey' }}.</p>
    </template>
    <button v-else-if="importing.error" type="button" class="ink-button" @click="importing.forget()">
      Put it away
    </button>
  </section>
</template>

<style scoped>
.card {
  padding: 12px 14px;
  border-bottom: 1px solid var(--ink);
  display: grid;
  gap: 7px;
  background: var(--heather-tint);
}
h2 {
  overflow-wrap: anywhere;
}
p {
  margin: 0;
}
.note,
.facts {
  font-size: 0.88rem;
}
progress {
  width: 100%;
  accent-color: var(--heather);
}
.layers {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  gap: 3px 8px;
  align-items: center;
  font-size: 0.9rem;
  padding-top: 4px;
  max-height: 210px;
  overflow: auto;
}
.layers > span {
  overflow-wrap: anywhere;
}
.scale {
  display: flex;
  flex-wrap: wrap;
  gap: 5px;
  padding-top: 5px;
}
.scale input {
  width: 5rem;
}
.row {
  display: flex;
  gap: 8px;
  align-items: center;
  justify-content: space-between;
}
.act {
  display: grid;
  gap: 6px;
}
ul {
  margin: 4px 0;
  padding-left: 1.1rem;
  font-size: 0.85rem;
  overflow-wrap: anywhere;
}
summary {
  cursor: pointer;
  font-size: 0.9rem;
}
</style>
