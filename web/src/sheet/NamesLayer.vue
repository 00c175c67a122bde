<script setup lang="ts">
/** Space names with their score, set where they do not run under a wall. */
import { computed } from 'vue'
import { useAssessment } from '@/job/useAssessment'
import { useJob } from '@/job/useJob'
import { useView } from '@/job/useView'
import { bounds } from '@/sheet/elements'
import { number } from '@/units/units'

const props = defineProps<{ k: number; scores: boolean }>()
const job = useJob()
const view = useView()
const assessment = useAssessment()

const names = computed(() =>
  job.of('space').filter((space) => space.storey_id === view.storey?.id).map((space) => {
    const box = bounds(space.outline)
    const score = assessment.spaces.get(space.id)
    const width = (box.x1 - box.x0) * props.k
    const most = Math.max(0, Math.floor((width - 4) / 5.4))
    const label = space.label.length <= most ? space.label : most > 3 ? `${space.label.slice(0, most - 1)}…` : ''
    return { id: space.id, label, full: space.label, x: box.x0 + 5 / props.k, y: box.y0 + 15 / props.k, score, tall: (box.y1 - box.y0) * props.k > 34 && width > 52 }
  }),
)
</script>

<template>
  <g class="names">
    <g v-for="name in names" :key="name.id" :transform="`translate(${name.x} ${name.y}) scale(${1 / k})`">
      <title>{{ name.full }}</title>
      <text class="label">{{ name.label }}</text>
      <text v-if="scores && name.score && name.tall && name.label" y="13" class="mono" :class="name.score.holds ? 'ok' : 'bad'">{{ name.score.holds ? '✓' : '▲' }} {{ number(Math.floor(name.score.share * 100), 0) }}%</text>
    </g>
  </g>
</template>

<style scoped>
.names { pointer-events: none; }
text { font-size: 11.5px; fill: var(--ink); paint-order: stroke; stroke: var(--halo); stroke-width: 3px; stroke-linejoin: round; }
.mono { font-size: 10.5px; }
.ok { fill: var(--moss); }
.bad { fill: var(--rust); font-weight: 600; }
</style>
