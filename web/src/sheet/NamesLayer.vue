<script setup lang="ts">
/** Space names with their score, set where they do not run under a wall. */
import { useSpaceNames } from '@/sheet/useSpaceNames'
import type { SpaceScore } from '@/api/schema'
import { number } from '@/units/units'

const props = defineProps<{ k: number; scores: boolean }>()
/** What a space fails for, where it is not its first signal. */
function why(score: SpaceScore): string {
  return score.holds || score.best_share <= score.share + 0.05 ? '' : ' second'
}
const LINE_PX = 13
const names = useSpaceNames(() => props.k)
</script>

<template>
  <g class="names">
    <g v-for="name in names" :key="name.id" :transform="`translate(${name.x} ${name.y}) scale(${1 / k})`">
      <title>{{ name.full }}</title>
      <text class="label">
        <tspan v-for="(line, n) in name.lines" :key="n" x="0" :dy="n ? LINE_PX : 0">{{ line }}</tspan>
      </text>
      <text
        v-if="scores && name.score && name.tall && name.lines.length"
        :y="LINE_PX * name.lines.length"
        class="mono"
        :class="name.score.holds ? 'ok' : 'bad'"
        >{{ name.score.holds ? '✓' : '▲' }} {{ number(Math.floor(name.score.share * 100), 0) }}%{{
          why(name.score)
        }}</text
      >
    </g>
  </g>
</template>

<style scoped>
.names {
  pointer-events: none;
}
text {
  font-size: 11.5px;
  fill: var(--ink);
  paint-order: stroke;
  stroke: var(--halo);
  stroke-width: 3px;
  stroke-linejoin: round;
}
.mono {
  font-size: 10.5px;
}
.ok {
  fill: var(--moss);
}
.bad {
  fill: var(--rust);
  font-weight: 600;
}
</style>
