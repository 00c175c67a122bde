<script setup lang="ts">
/** What an import proposes, in pencil: a press takes a wall out or back, a press in a room all its walls. */
import { computed } from 'vue'
import { useImport, type PencilStorey } from '@/job/useImport'
import { bounds, centre } from '@/sheet/elements'
import { stretch, svgPath } from '@/sheet/geometry'
import { fitted } from '@/sheet/labels'

const props = defineProps<{ k: number }>()
const importing = useImport()
const storey = computed(() => importing.storey)
const byId = computed(() => new Map(storey.value?.walls.map((wall) => [wall.id, wall])))
const openings = computed(() =>
  (storey.value?.openings ?? []).flatMap((o) => {
    const wall = byId.value.get(o.wall_id)
    if (!wall || importing.rejected.has(wall.id)) return []
    return [{ o, kind: importing.kinds.get(o.id) ?? o.opening_kind, line: stretch(wall, o.at_m, o.at_m + o.width_m) }]
  }),
)
/** Names where they fit their rooms. */
const names = computed(() =>
  (storey.value?.spaces ?? []).map((space) => {
    const box = bounds(space.outline)
    return { space, lines: fitted(space.label, (box.x1 - box.x0) * props.k - 6, 2) }
  }),
)
const size = computed(() => importing.reading?.picture_px)
const scale = computed(() => importing.reading?.metres_per_unit ?? 0)

function room(space: PencilStorey['spaces'][number]): void {
  const ids = [space.id, ...space.wall_ids]
  const shared = new Set(
    (storey.value?.spaces ?? [])
      .filter((s) => s.id !== space.id && !importing.rejected.has(s.id))
      .flatMap((s) => s.wall_ids),
  )
  const out = !importing.rejected.has(space.id)
  importing.reject(out ? ids.filter((id) => !shared.has(id)) : ids, out)
}
const px = (value: number) => value / props.k
</script>

<template>
  <g v-if="storey" class="pencil" role="group" aria-label="Proposed">
    <image
      v-if="importing.picture && size"
      class="under"
      :href="importing.picture"
      x="0"
      y="0"
      :width="size[0] * scale"
      :height="size[1] * scale"
      preserveAspectRatio="none"
    />
    <path
      v-for="space in storey.spaces"
      :key="space.id"
      :d="svgPath(space.outline, true)"
      class="room"
      :class="{ out: importing.rejected.has(space.id), lit: importing.lit === `space ${space.alike}` }"
      @click.stop="room(space)"
    />
    <line
      v-for="wall in storey.walls"
      :key="wall.id"
      :x1="wall.a.x_m"
      :y1="wall.a.y_m"
      :x2="wall.b.x_m"
      :y2="wall.b.y_m"
      class="wall"
      :class="{ out: importing.rejected.has(wall.id), lit: importing.lit === `wall ${wall.alike}` }"
      :stroke-width="Math.max(wall.thickness_m ?? 0, px(2))"
    />
    <line
      v-for="wall in storey.walls"
      :key="`${wall.id}-axis`"
      :x1="wall.a.x_m"
      :y1="wall.a.y_m"
      :x2="wall.b.x_m"
      :y2="wall.b.y_m"
      class="axis"
      :class="{ out: importing.rejected.has(wall.id) }"
      :stroke-width="px(1.2)"
      :stroke-dasharray="`${px(7)} ${px(3)}`"
    />
    <line
      v-for="wall in storey.walls"
      :key="`${wall.id}-catch`"
      :x1="wall.a.x_m"
      :y1="wall.a.y_m"
      :x2="wall.b.x_m"
      :y2="wall.b.y_m"
      class="catch"
      :data-pencil="wall.id"
      :stroke-width="px(9)"
      @click.stop="importing.toggle(wall.id)"
    />
    <path
      v-for="{ o, kind, line } in openings"
      :key="o.id"
      :d="svgPath(line)"
      class="opening"
      :class="[kind, { out: importing.rejected.has(o.id), lit: importing.lit === `opening ${o.alike}` }]"
      :stroke-width="px(importing.lit === `opening ${o.alike}` ? 10 : 5)"
      @click.stop="importing.toggle(o.id)"
    />
    <text
      v-for="{ space, lines } in names"
      :key="`${space.id}-name`"
      :class="{ out: importing.rejected.has(space.id) }"
      :transform="`translate(${centre(space.outline).x_m} ${centre(space.outline).y_m}) scale(${px(1)})`"
    >
      <tspan v-for="(line, n) in lines" :key="n" x="0" :dy="n ? 14 : 0">{{ line }}</tspan>
    </text>
  </g>
</template>

<style scoped>
.under {
  opacity: 0.4;
}
.room {
  fill: color-mix(in srgb, var(--heather) 6%, transparent);
  cursor: pointer;
}
.room.out {
  fill: transparent;
}
.wall {
  stroke: var(--ink-quiet);
  opacity: 0.35;
}
.axis {
  stroke: var(--ink);
}
.wall.out,
.axis.out {
  stroke: var(--rust);
  opacity: 0.25;
}
.opening {
  stroke: var(--paper-raised);
  fill: none;
  cursor: pointer;
}
.opening.door {
  stroke: var(--heather);
}
.opening.window {
  stroke: var(--tarn);
}
.wall.lit {
  stroke: var(--gorse);
  opacity: 0.9;
}
.room.lit {
  fill: color-mix(in srgb, var(--gorse) 30%, transparent);
}
.opening.lit {
  filter: drop-shadow(0 0 2px var(--gorse));
}
.opening.out {
  opacity: 0.25;
}
.catch {
  stroke: transparent;
  cursor: pointer;
}
text {
  font-size: 12px;
  text-anchor: middle;
  fill: var(--ink-quiet);
  font-style: italic;
  pointer-events: none;
  paint-order: stroke;
  stroke: var(--halo);
  stroke-width: 3px;
}
text.out {
  opacity: 0.3;
}
</style>
