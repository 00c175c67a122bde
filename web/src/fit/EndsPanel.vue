<script setup lang="ts">
/** How ends are made in this job: eight wires drawn large, in colours and in words. */
import { api, take } from '@/api/client'
import { useAsked } from '@/job/useAsked'
import { useJob } from '@/job/useJob'

const job = useJob()
const params = { path: { job_id: job.id } }
const { found, said } = useAsked(() => take(api.GET('/api/jobs/{job_id}/fit/ends', { params })))
/** The wires as they are made; each is named beside its colour. */
const WIRES = { orange: '#D9731A', green: '#2E7D3B', blue: '#2B5FA8', brown: '#6B4423' } as const
</script>

<template>
  <section class="panel" aria-label="Ends">
    <p v-if="said" class="fault lead" role="alert">▲ {{ said }}</p>
    <div v-if="found" class="guide">
      <figure>
        <svg viewBox="0 0 352 176" role="img" :aria-label="`Ends by ${found.scheme}, pin 1 at the left`">
          <g v-for="(pin, n) in found.pins" :key="pin.pin" :transform="`translate(${n * 44 + 2} 0)`">
            <text x="20" y="18" class="pin">{{ pin.pin }}</text>
            <rect y="26" width="40" height="100" :fill="pin.white ? '#FFFFFF' : WIRES[pin.colour]" class="wire" />
            <template v-if="pin.white">
              <rect v-for="k in 5" :key="k" x="0.5" :y="16 + k * 19" width="39" height="9" :fill="WIRES[pin.colour]" />
            </template>
            <text x="20" y="142">{{ pin.white ? 'white' : pin.colour }}</text>
            <text v-if="pin.white" x="20" y="155">{{ pin.colour }}</text>
            <text x="20" y="170" class="pair">pair {{ pin.pair }}</text>
          </g>
        </svg>
        <figcaption class="quiet">Seen from where the wires go in, clip below.</figcaption>
      </figure>
      <div>
        <h3>Ends by {{ found.scheme }}</h3>
        <ul>
          <li v-for="rule in found.rules" :key="rule">{{ rule }}</li>
        </ul>
      </div>
    </div>
  </section>
</template>

<style scoped>
.panel {
  overflow: auto;
}
.guide {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 28px;
  padding: 4px 12px 12px;
}
figure {
  margin: 0;
  flex: 0 1 400px;
}
svg {
  width: 100%;
}
text {
  fill: var(--ink);
  font-size: 11px;
  text-anchor: middle;
}
.pin {
  font-size: 18px;
  font-weight: 700;
}
.pair {
  fill: var(--ink-quiet);
  font-size: 9px;
}
.wire {
  stroke: var(--ink);
}
.guide > div {
  flex: 1 1 260px;
}
h3 {
  margin: 4px 0;
  font-size: 1rem;
}
ul {
  margin: 0;
  padding-left: 18px;
}
li {
  margin: 4px 0;
}
</style>
