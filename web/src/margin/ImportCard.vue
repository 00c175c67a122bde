<script setup lang="ts">
/** The import at hand: what was understood, how layers and scale are meant, accept or leave. */
import { computed, ref } from 'vue'
import type { ImportAsked } from '@/api/schema'
import { useImport } from '@/job/useImport'
import { useView } from '@/job/useView'
import ImportDoubts from '@/margin/ImportDoubts.vue'
import ImportScale from '@/margin/ImportScale.vue'
import ImportStoreys from '@/margin/ImportStoreys.vue'
import SheetCorners from '@/margin/SheetCorners.vue'
import { useUnits } from '@/units/useUnits'

type Role = NonNullable<ImportAsked['roles']>[string]
const ROLES: readonly Role[] = ['wall', 'door', 'window', 'text', 'ignore']
const importing = useImport()
const view = useView()
const units = useUnits()
const corners = ref(false)
const typed = ref('')
const state = computed(() => importing.state)
const reading = computed(() => importing.reading)
const doubtful = computed(() =>
  (reading.value?.layers ?? []).some((layer) => !importing.isSure(layer.certainty) && layer.role !== 'ignore'),
)
const onto = computed(() => importing.said.some((s) => s.elevation_m === null))
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
function unlock(): void {
  importing.password = typed.value
  typed.value = ''
  void importing.ask({})
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
      <button type="button" class="ink-button" @click="state.earlier ? importing.back() : importing.leave()">
        Stop
      </button>
    </template>
    <template v-else-if="state?.state === 'failed'">
      <p class="fault" role="alert">▲ {{ state.doing }} Nothing was changed.</p>
      <form v-if="state.locked" class="row" @submit.prevent="unlock">
        <input
          v-model="typed"
          class="field"
          type="password"
          autocomplete="off"
          aria-label="Password of the file"
          placeholder="password"
        />
        <button type="submit" class="ink-button primary" :disabled="!typed">Open it</button>
      </form>
      <button v-if="state.earlier" type="button" class="ink-button primary" @click="importing.back()">
        Go on with what was read before
      </button>
      <button type="button" class="ink-button" @click="importing.leave()">Put it away</button>
    </template>
    <template v-else-if="reading">
      <p class="quiet facts">
        {{ size }} · {{ reading.unit }}<template v-if="!reading.scale_known"> · scale not stated</template>
      </p>
      <ImportDoubts />
      <p v-for="note in reading.proposal.notes" :key="note" class="advice note">● {{ note }}</p>
      <ImportStoreys />
      <label v-if="reading.pages > 1" class="row"
        >Page
        <select
          class="field"
          :value="importing.page"
          aria-label="Page of the file"
          @change="importing.ask({ page: Number(($event.target as HTMLSelectElement).value) })"
        >
          <option :value="0">all with a plan</option>
          <option v-for="n in reading.pages" :key="n" :value="n">{{ n }} of {{ reading.pages }}</option>
        </select>
      </label>
      <button v-if="importing.original" type="button" class="ink-button" @click="corners = true">
        {{ reading.corners ? 'Move the corners of the sheet' : 'Straighten a photographed sheet' }}
      </button>
      <SheetCorners v-model:visible="corners" />
      <ImportScale v-if="reading.kind !== 'ifc'" />
      <details v-if="reading.layers.length" open>
        <summary>
          Layers<template v-if="doubtful">: look at those with <span class="advice">●</span></template>
        </summary>
        <div class="layers">
          <template v-for="layer in reading.layers" :key="layer.name">
            <span :title="`${layer.lines} lines, ${layer.marks} blocks, ${layer.texts} texts; ${layer.why}`"
              ><span v-if="!importing.isSure(layer.certainty)" class="advice" aria-hidden="true">● </span
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
      <details v-if="reading.proposal.skipped.length">
        <summary>Left out: {{ reading.proposal.skipped.length }}</summary>
        <ul>
          <li v-for="(s, i) in reading.proposal.skipped" :key="i">{{ s.count }} × {{ s.what }}: {{ s.why }}</li>
        </ul>
      </details>
      <p class="quiet note">Press a wall, door or window in pencil to leave it out, a room to leave its walls out.</p>
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
      <p v-if="onto" class="quiet note">Goes onto {{ view.storey?.label ?? 'a storey' }}.</p>
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
