<script setup lang="ts">
import { computed } from 'vue'
import { useJob } from '@/job/useJob'
import { useLibrary } from '@/job/useLibrary'
import { useAirView, type Way } from '@/air/useAirView'
import { useView } from '@/job/useView'
import type { Band } from '@/job/types'
import { useStages } from '@/stages/useStages'
import { usePreferences } from '@/units/preferences'

const emit = defineEmits<{ palette: []; keys: [] }>()
const job = useJob()
const view = useView()
const airView = useAirView()
const preferences = usePreferences()
const BANDS: readonly Band[] = ['2.4', '5', '6']
const library = useLibrary()
const SIGNALS = [
  ['best', 'Best'],
  ['second', 'Second'],
] as const
/** Every other layer of the library; a difference is asked for in Compare. */
const LAYERS = computed(() =>
  Object.entries(library.shelves?.layers ?? {}).filter(
    ([id]) => id !== 'difference' && !SIGNALS.some(([s]) => s === id),
  ),
)
const more = computed({
  get: () => (SIGNALS.some(([s]) => s === airView.signal) ? '' : airView.signal),
  set: (name) => {
    airView.signal = name || 'best'
  },
})
const WAYS: readonly (readonly [Way, string])[] = [
  ['weaker', 'weaker way'],
  ['down', 'down'],
  ['up', 'up'],
]
const { now: stage } = useStages()
</script>

<template>
  <header class="bar">
    <RouterLink to="/" class="home" title="Job list" aria-label="Job list"
      ><svg width="18" height="16" viewBox="0 0 16 14" aria-hidden="true"><path d="M1 13 6 3l3 5 2-3 4 8z" /></svg
    ></RouterLink>
    <h1 :title="job.name">{{ job.name }}</h1>
    <span class="quiet where">{{ view.storey?.label }} · {{ stage?.key }} {{ stage?.name }}</span>
    <template v-if="view.stage === 'air'">
      <div class="group" role="group" aria-label="Band">
        <button
          v-for="band in BANDS"
          :key="band"
          type="button"
          class="ink-button"
          :aria-pressed="airView.band === band"
          @click="airView.band = band"
        >
          {{ band }}{{ band === '6' ? ' GHz' : '' }}
        </button>
      </div>
      <div class="group" role="group" aria-label="Signal">
        <button
          v-for="[signal, label] in SIGNALS"
          :key="signal"
          type="button"
          class="ink-button"
          :aria-pressed="airView.signal === signal"
          @click="airView.signal = signal"
        >
          {{ label }}
        </button>
      </div>
      <select v-model="more" class="field layer" aria-label="Layer">
        <option value="">more…</option>
        <option v-for="[id, layer] in LAYERS" :key="id" :value="id">{{ layer.label }}</option>
      </select>
      <select v-model="airView.way" class="field" aria-label="Way">
        <option v-for="[way, label] in WAYS" :key="way" :value="way">{{ label }}</option>
      </select>
    </template>
    <div v-if="view.stage !== 'brief'" class="group" role="group" aria-label="Look">
      <button type="button" class="ink-button" :aria-pressed="view.look === 'sheet'" @click="view.look = 'sheet'">
        Sheet
      </button>
      <button
        type="button"
        class="ink-button"
        :aria-pressed="view.look === '3d'"
        title="The building in three dimensions (V)"
        @click="view.look = '3d'"
      >
        3D
      </button>
    </div>
    <span class="spring" />
    <button type="button" class="find quiet" title="Find or do anything (Ctrl+K)" @click="emit('palette')">
      <span>Find or do</span><kbd>Ctrl K</kbd>
    </button>
    <button
      type="button"
      class="ink-button"
      :disabled="!job.canUndo"
      title="Undo (Ctrl+Z)"
      aria-label="Undo"
      @click="job.undo()"
    >
      ↶
    </button>
    <button
      type="button"
      class="ink-button"
      :disabled="!job.canRedo"
      title="Redo (Ctrl+Shift+Z)"
      aria-label="Redo"
      @click="job.redo()"
    >
      ↷
    </button>
    <button
      type="button"
      class="ink-button units"
      :title="`Units: ${preferences.units}`"
      aria-label="Switch metric and imperial"
      @click="preferences.units = preferences.units === 'metric' ? 'imperial' : 'metric'"
    >
      {{ preferences.units === 'metric' ? 'm' : 'ft' }}
    </button>
    <button
      type="button"
      class="ink-button"
      :aria-pressed="preferences.night"
      title="Night sheet"
      aria-label="Night sheet"
      @click="preferences.night = !preferences.night"
    >
      <span class="pi pi-moon" aria-hidden="true" />
    </button>
    <button type="button" class="ink-button" title="Keys (?)" aria-label="Keys" @click="emit('keys')">?</button>
  </header>
</template>

<style scoped>
.bar {
  display: flex;
  align-items: center;
  gap: 7px;
  padding: 0 12px;
  border-bottom: 1px solid var(--ink);
  background: var(--paper-deep);
  min-width: 0;
}
h1 {
  font-size: 1.15rem;
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
  min-width: 4rem;
}
.home path {
  fill: var(--heather);
}
.where {
  white-space: nowrap;
  font-size: 0.9rem;
  margin-right: 4px;
}
.group {
  display: flex;
}
.group .ink-button + .ink-button {
  margin-left: -1px;
}
.group .ink-button {
  white-space: nowrap;
  padding: 0.2rem 0.5rem;
  min-width: 28px;
}
.layer {
  width: 92px;
}
.spring {
  flex: 1;
}
.find {
  font: inherit;
  font-size: 0.9rem;
  display: flex;
  gap: 12px;
  align-items: center;
  background: var(--paper-raised);
  border: 1px solid var(--rule);
  border-radius: 2px;
  padding: 0.2rem 0.5rem;
  cursor: pointer;
  white-space: nowrap;
}
.units {
  font-family: var(--mono);
  min-width: 2.2rem;
}
</style>
