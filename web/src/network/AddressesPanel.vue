<script setup lang="ts">
/** The address space in use, drawn to scale; what lies over what; and how a network in use is moved. */
import { computed, ref } from 'vue'
import { api, take } from '@/api/client'
import type { MapRow } from '@/api/schema'
import { useAsked } from '@/job/useAsked'
import { useJob } from '@/job/useJob'
import { useSelection } from '@/job/useSelection'
import FixedPart from '@/network/FixedPart.vue'
import RenumberPart from '@/network/RenumberPart.vue'

const job = useJob()
const selection = useSelection()
const params = { path: { job_id: job.id } }
const { found, said } = useAsked(() => take(api.GET('/api/jobs/{job_id}/network/addresses', { params })))
const moving = ref('')
const networks = computed(() =>
  (found.value?.rows ?? []).flatMap((row) => row.stretches).filter((one) => one.kind === 'network'),
)
/** What of a row is drawn: the part in use with a margin, so that a /24 of a /16 can be seen. */
function shown(row: MapRow): { from: number; size: number } {
  const from = Math.min(...row.stretches.map((one) => one.from_share))
  const to = Math.max(...row.stretches.map((one) => one.to_share))
  const margin = Math.max(0.004, (to - from) * 0.06)
  const start = Math.max(0, from - margin)
  return { from: start, size: Math.min(1, to + margin) - start }
}
function style(row: MapRow, one: MapRow['stretches'][number]): Record<string, string> {
  const { from, size } = shown(row)
  return {
    left: `${(100 * (one.from_share - from)) / size}%`,
    width: `${Math.max(0.7, (100 * (one.to_share - one.from_share)) / size)}%`,
  }
}
</script>

<template>
  <section class="panel" aria-label="Addresses">
    <p v-if="said" class="fault lead" role="alert">▲ {{ said }}</p>
    <p v-if="found && !found.rows.length" class="quiet lead">
      Propose networks, and say in the brief which subnet the service hands out: what is in use is drawn here.
    </p>
    <template v-else-if="found">
      <p v-for="clash in found.clashes" :key="clash.one + clash.other" class="fault lead">
        ▲ <span class="mono">{{ clash.one }}</span> and <span class="mono">{{ clash.other }}</span> lie over each other.
        {{ clash.words }}
      </p>
      <p v-if="!found.clashes.length" class="holds lead">✓ Nothing lies over anything else.</p>
      <p class="quiet lead">{{ found.doubled }}</p>
      <div v-for="row in found.rows" :key="row.label" class="row">
        <h3 class="mono">{{ row.label }}</h3>
        <div v-for="one in row.stretches" :key="one.subject_id" class="line">
          <button
            v-if="one.kind === 'network'"
            type="button"
            class="bare says"
            :class="{ chosen: selection.selected === one.subject_id }"
            @click="selection.select(one.subject_id)"
          >
            {{ one.label }}
          </button>
          <span v-else class="says">{{ one.label }}</span>
          <span class="mono subnet" :class="{ fault: one.over.length }"
            ><template v-if="one.over.length">▲ </template>{{ one.subnet }}</span
          >
          <span class="track" aria-hidden="true"
            ><span
              class="stretch"
              :class="{ outside: one.kind !== 'network', over: one.over.length }"
              :style="style(row, one)"
              ><span class="used" :style="{ width: `${100 * one.used_share}%` }" /></span
          ></span>
        </div>
      </div>
      <p class="quiet lead">
        Each strip is drawn to its own scale; the hatched part of a network is what its count asks for. Outside is
        dashed.
      </p>
      <FixedPart :map="found" />
      <label class="lead"
        >Move a network that people use:
        <select v-model="moving" class="field">
          <option value="">choose…</option>
          <option v-for="one in networks" :key="one.subject_id" :value="one.subject_id">
            {{ one.label }} {{ one.subnet }}
          </option>
        </select>
      </label>
      <RenumberPart v-if="moving" :network="moving" />
    </template>
  </section>
</template>

<style scoped>
.panel {
  overflow: auto;
}
.row {
  margin: 0 12px 6px;
}
h3 {
  margin: 0 0 2px;
  font-size: 0.84rem;
  font-weight: 400;
  color: var(--ink-quiet);
}
.line {
  display: grid;
  grid-template-columns: 150px 150px 1fr;
  gap: 10px;
  align-items: center;
  min-height: 24px;
  font-size: 0.9rem;
}
.says {
  text-align: left;
}
.chosen {
  background: var(--heather-tint);
}
.subnet {
  font-size: 0.84rem;
}
.track {
  position: relative;
  height: 18px;
  border-bottom: 1px solid var(--rule);
}
.stretch {
  position: absolute;
  inset-block: 2px;
  border: 1px solid var(--tarn);
  overflow: hidden;
}
.outside {
  border: 1px dashed var(--ink);
}
.over {
  border-color: var(--rust);
  border-width: 2px;
}
.used {
  position: absolute;
  inset: 0 auto 0 0;
  background: repeating-linear-gradient(135deg, var(--tarn) 0 1px, transparent 1px 5px);
}
</style>
