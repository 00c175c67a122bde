<script setup lang="ts">
/** Spaces, walls, openings and the picture under them, in sheet metres. */
import { computed } from 'vue'
import type { Of } from '@/job/types'
import { useJob } from '@/job/useJob'
import { useLibrary } from '@/job/useLibrary'
import { useSelection } from '@/job/useSelection'
import { useView } from '@/job/useView'
import { stretch, svgPath } from '@/sheet/geometry'
import { UNSCALED_M_PER_PX } from '@/sheet/useDrawing'

const props = defineProps<{ k: number; terrain: boolean }>()
const job = useJob()
const view = useView()
const selection = useSelection()
const library = useLibrary()

const here = computed(() => view.storey?.id)
const spaces = computed(() => job.of('space').filter((s) => s.storey_id === here.value))
const walls = computed(() => job.of('wall').filter((w) => w.storey_id === here.value))
const underlays = computed(() => job.of('underlay').filter((u) => u.storey_id === here.value))
const openings = computed(() => {
  const byId = new Map(walls.value.map((wall) => [wall.id, wall]))
  return job.of('opening').flatMap((opening) => {
    const wall = byId.get(opening.wall_id)
    return wall ? [{ opening, line: stretch(wall, opening.at_m, opening.at_m + opening.width_m) }] : []
  })
})
/** Heavier walls draw heavier; the two leaves of an acoustic wall show as two lines. */
function weight(wall: Of<'wall'>): number {
  if (wall.thickness_m) return Math.max(wall.thickness_m, 1.3 / props.k)
  const loss = wall.build_up ? (library.shelves?.build_ups[wall.build_up]?.loss_5_db ?? 6) : 3
  return (1.3 + Math.min(loss, 30) / 9) / props.k
}
function leaf(opening: Of<'opening'>, line: readonly { x_m: number; y_m: number }[]): string {
  const [a, b] = line
  if (!a || !b || opening.opening_kind !== 'door') return ''
  const end = { x_m: a.x_m - (b.y_m - a.y_m), y_m: a.y_m + (b.x_m - a.x_m) }
  return `M${a.x_m} ${a.y_m}L${end.x_m} ${end.y_m}A${opening.width_m} ${opening.width_m} 0 0 0 ${b.x_m} ${b.y_m}`
}
function px(value: number): number {
  return value / props.k
}
</script>

<template>
  <g>
    <image
      v-for="u in underlays"
      :key="u.id"
      class="underlay"
      :href="`/api/jobs/${job.id}/pictures/${u.attachment_id}`"
      :x="u.x_m"
      :y="u.y_m"
      :width="u.width_px * (u.metres_per_px ?? UNSCALED_M_PER_PX)"
      :height="u.height_px * (u.metres_per_px ?? UNSCALED_M_PER_PX)"
      preserveAspectRatio="none"
    />
    <path
      v-for="space in spaces"
      :key="space.id"
      :d="svgPath(space.outline, true)"
      class="space"
      :class="{
        outdoor: space.space_kind === 'outdoor',
        stop: space.no_go,
        chosen: selection.isChosen(space.id),
        bare: !terrain,
      }"
      :stroke-width="px(selection.isChosen(space.id) ? 2.5 : 0.8)"
      :stroke-dasharray="space.space_kind === 'outdoor' ? `${px(7)} ${px(3)} ${px(1)} ${px(3)}` : undefined"
      @click="selection.pick($event, space.id)"
    />
    <g
      v-for="wall in walls"
      :key="wall.id"
      class="wall"
      :class="{ chosen: selection.isChosen(wall.id), unknown: !wall.build_up }"
    >
      <line :x1="wall.a.x_m" :y1="wall.a.y_m" :x2="wall.b.x_m" :y2="wall.b.y_m" :stroke-width="weight(wall)" />
      <line
        v-if="wall.build_up === 'acoustic-double'"
        class="core"
        :x1="wall.a.x_m"
        :y1="wall.a.y_m"
        :x2="wall.b.x_m"
        :y2="wall.b.y_m"
        :stroke-width="px(0.9)"
      />
      <line
        class="catch"
        :x1="wall.a.x_m"
        :y1="wall.a.y_m"
        :x2="wall.b.x_m"
        :y2="wall.b.y_m"
        :stroke-width="px(9)"
        @click="selection.pick($event, wall.id)"
      />
    </g>
    <g
      v-for="{ opening, line } in openings"
      :key="opening.id"
      class="opening"
      :class="{ chosen: selection.isChosen(opening.id) }"
      @click="selection.pick($event, opening.id)"
    >
      <path :d="svgPath(line)" class="gap" :stroke-width="px(6)" />
      <path v-if="opening.opening_kind === 'window'" :d="svgPath(line)" :stroke-width="px(1)" />
      <path v-else :d="leaf(opening, line)" :stroke-width="px(1)" />
    </g>
  </g>
</template>

<style scoped>
.underlay {
  opacity: 0.55;
}
.night .underlay {
  filter: invert(1);
  opacity: 0.4;
}
.space {
  fill: transparent;
  stroke: var(--rule);
  cursor: default;
}
.space.bare {
  fill: var(--paper-raised);
}
.space.bare.outdoor {
  fill: none;
  pointer-events: stroke;
}
.space.outdoor {
  stroke: var(--ink-quiet);
}
.space.stop {
  fill: rgba(128, 96, 0, 0.13);
}
.space.chosen {
  stroke: var(--heather);
  fill: color-mix(in srgb, var(--heather) 12%, transparent);
}
.wall line {
  stroke: var(--ink);
  stroke-linecap: square;
}
.wall line.core {
  stroke: var(--paper);
}
.wall line.catch {
  stroke: transparent;
  stroke-linecap: butt;
  cursor: pointer;
}
.wall.chosen line:not(.core, .catch) {
  stroke: var(--heather);
}
.wall.unknown line:not(.catch) {
  stroke: var(--rust);
  stroke-dasharray: 0.3 0.2;
}
.opening {
  cursor: pointer;
}
.opening path {
  fill: none;
  stroke: var(--ink);
}
.opening path.gap {
  stroke: var(--paper);
}
.opening.chosen path:not(.gap) {
  stroke: var(--heather);
}
</style>
