<script setup lang="ts">
/** The network as a river: the service is the spring, what joins ports the confluences, devices the mouths. */
import { computed } from 'vue'
import { api, take } from '@/api/client'
import { GLYPHS } from '@/ink/glyphs'
import { useAsked } from '@/job/useAsked'
import { useJob } from '@/job/useJob'
import { useSelection } from '@/job/useSelection'
import SaveAs from '@/stages/actions/SaveAs.vue'

const COLUMN = 290
const ROW = 21
const BENDS = [200, 184] as const
const job = useJob()
const selection = useSelection()
const { found, said, busy } = useAsked(() =>
  take(api.GET('/api/jobs/{job_id}/links/river', { params: { path: { job_id: job.id } } })),
)
const files = { 'pdf?paper=A3': 'PDF A3', 'pdf?paper=A1': 'PDF A1', 'svg?': 'SVG' }
const save = (file: string) => `/api/jobs/${job.id}/export/network.${file}`

const at = computed(
  () =>
    new Map((found.value?.things ?? []).map((one) => [one.id, { x: 24 + one.column * COLUMN, y: 20 + one.row * ROW }])),
)
const streams = computed(() =>
  (found.value?.streams ?? []).flatMap((stream) => {
    const a = at.value.get(stream.a)
    const b = at.value.get(stream.b)
    if (!a || !b) return []
    const [out, into] = [b.x - BENDS[0], b.x - BENDS[1]]
    const way = a.x === b.x ? `H${a.x - 14}V${b.y}H${b.x}` : `H${out}L${into} ${b.y}H${b.x}`
    return [
      {
        stream,
        d: `M${a.x} ${a.y}${way}`,
        words: { x: into + 4, y: b.y - 3 },
        wide: 1 + Math.min(3, stream.mbps / 2500),
      },
    ]
  }),
)
const size = computed(() => ({
  wide: 24 + ((found.value?.columns ?? 1) - 1) * COLUMN + 190,
  high: 34 + (found.value?.rows ?? 1) * ROW,
}))
function pick(id: string): void {
  if (job.elements.has(id)) selection.select(id)
}
</script>

<template>
  <section class="panel" aria-label="River map" :aria-busy="busy">
    <p v-if="said" class="fault lead" role="alert">▲ {{ said }}</p>
    <p v-if="found && found.things.length < 2" class="quiet lead">
      Put a switch in a rack and run cables: the network is drawn here from where the service enters.
    </p>
    <template v-else-if="found">
      <p class="lead">
        <SaveAs label="Save the network as" first="Save as…" :files="files" :href="save" />
        <span v-if="found.dry.length" class="advice">▲ Nothing leads to {{ found.dry.join(', ') }}.</span>
      </p>
      <svg :width="size.wide" :height="size.high" role="group" aria-label="The network from the service on">
        <g
          v-for="(one, n) in streams"
          :key="n"
          :class="[one.stream.medium, { second: one.stream.second }]"
          class="stream"
        >
          <path :d="one.d" :stroke-width="one.wide" />
          <text v-if="one.stream.link_id" class="mono" :x="one.words.x" :y="one.words.y">{{ one.stream.says }}</text>
        </g>
        <g
          v-for="thing in found.things"
          :key="thing.id"
          class="thing"
          :class="{ chosen: selection.selected === thing.id }"
          role="button"
          tabindex="0"
          :aria-label="`${thing.label}, ${thing.what}`"
          :transform="`translate(${at.get(thing.id)?.x ?? 0} ${at.get(thing.id)?.y ?? 0})`"
          @click="pick(thing.id)"
          @keydown.enter="pick(thing.id)"
        >
          <rect x="-12" y="-12" width="24" height="24" />
          <path transform="translate(-7 -7) scale(.875)" :d="GLYPHS[thing.sign] ?? GLYPHS.device" />
          <text x="12" y="4">{{ thing.label }}</text>
        </g>
      </svg>
    </template>
  </section>
</template>

<style scoped>
.panel {
  overflow: auto;
}
.lead {
  display: flex;
  gap: 12px;
  align-items: baseline;
  margin: 4px 12px;
}
svg {
  display: block;
}
.stream path {
  fill: none;
  stroke: var(--ink-quiet);
}
.stream.copper path,
.stream.hybrid path {
  stroke: var(--tarn);
}
.stream.fibre path {
  stroke: var(--tarn);
  stroke-dasharray: 9 2;
}
.stream.bridge path,
.stream.mesh path {
  stroke: var(--tarn);
  stroke-dasharray: 8 3 2 3;
}
.stream.second path {
  opacity: 0.55;
}
.stream text {
  font-size: 10.5px;
  fill: var(--ink-quiet);
}
.thing {
  cursor: pointer;
  outline: none;
}
.thing rect {
  fill: var(--paper-raised);
}
.thing path {
  fill: none;
  stroke: var(--ink);
  stroke-width: 1.4;
}
.thing text {
  font-size: 12px;
  font-weight: 700;
  fill: var(--ink);
  paint-order: stroke;
  stroke: var(--paper-raised);
  stroke-width: 3px;
}
.thing.chosen path,
.thing:focus-visible path {
  stroke: var(--heather);
  stroke-width: 2.2;
}
</style>
