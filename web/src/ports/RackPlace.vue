<script setup lang="ts">
/** What a rack asks of its place, each figure open to its sum, and the wall it hangs on at scale. */
import { computed } from 'vue'
import type { RackPlan } from '@/api/schema'
import { useJob } from '@/job/useJob'
import SumNumber from '@/ledger/SumNumber.vue'
import { useUnits } from '@/units/useUnits'

// The wall is drawn so high and so wide. [m]
const HIGH = 2.3
const WIDE = 2.2
const props = defineProps<{ plan: RackPlan }>()
const job = useJob()
const units = useUnits()
const rack = computed(() => {
  const element = job.elements.get(props.plan.elevation.rack_id)
  return element?.kind === 'rack' ? element : undefined
})
const box = computed(() => {
  const high = (props.plan.elevation.height_u * 44.45 + 80) / 1000
  const wide = props.plan.elevation.wide_mm / 1000
  const low = props.plan.elevation.stands === 'floor' ? 0 : (rack.value?.height_m ?? 1.5)
  return { x: 0.35, y: HIGH - low - high, wide, high }
})
const studs = computed(() => {
  const apart = (props.plan.fixings.studs_mm ?? 0) / 1000
  return apart ? Array.from({ length: Math.floor(WIDE / apart) + 1 }, (_, n) => 0.12 + n * apart) : []
})
const panel = computed(() => {
  const near = props.plan.near.find((one) => one.kind === 'electrical-panel')
  return near && { ...near, x: box.value.x + box.value.wide + Math.max(-0.3, near.clear.value / 1000) }
})
const hangs = computed(() => {
  const { fixings } = props.plan
  if (fixings.holes_mm === null) return 'stands on the floor'
  if (fixings.backing_board) return 'screwed to a backing board'
  if (fixings.meet === null) return 'nobody said how far apart the studs are'
  return fixings.meet ? 'its holes meet the studs' : 'its holes miss the studs: plan a backing board'
})
</script>

<template>
  <div class="place">
    <table class="plain-table">
      <tbody>
        <tr>
          <th scope="row">Units taken</th>
          <td><SumNumber :sum="plan.units" :digits="0" /></td>
          <td class="quiet">{{ units.quantity(plan.units.limit ?? 0, 'U', 0) }} leave a quarter blank</td>
        </tr>
        <tr>
          <th scope="row">Weight in it</th>
          <td><SumNumber :sum="plan.weight" /></td>
          <td class="quiet">carries {{ units.quantity(plan.weight.limit ?? 0, 'kg', 0) }}; {{ hangs }}</td>
        </tr>
        <tr>
          <th scope="row">From the mains</th>
          <td><SumNumber :sum="plan.mains" :digits="0" /></td>
          <td class="quiet"><SumNumber :sum="plan.usual" :digits="0" /> on a usual day</td>
        </tr>
        <tr>
          <th scope="row">Heat into the room</th>
          <td><SumNumber :sum="plan.heat" :digits="0" /></td>
          <td class="quiet">
            <template v-if="plan.rise"
              >makes it <SumNumber :sum="plan.rise" :digits="0" />, at most
              {{ units.quantity(plan.rise.limit ?? 0, 'C', 0) }}</template
            ><template v-else>no drawn room, or no rated ambient known</template>
          </td>
        </tr>
        <tr>
          <th scope="row">Noise at a metre</th>
          <td><SumNumber :sum="plan.noise" :digits="0" /></td>
          <td class="quiet">
            <template v-for="(one, n) in plan.quiet.slice(0, 2)" :key="one.space_id"
              >{{ n ? ', ' : '' }}<SumNumber :sum="one.level" :digits="0" /> in {{ one.label }}</template
            ><template v-if="!plan.quiet.length">no room that wants quiet is near</template>
          </td>
        </tr>
        <tr>
          <th scope="row">Costs a year</th>
          <td><SumNumber :sum="plan.year" :digits="0" /></td>
          <td class="quiet">with all it feeds</td>
        </tr>
        <tr v-for="near in plan.near" :key="near.element_id">
          <th scope="row">{{ near.label }}</th>
          <td><SumNumber :sum="near.clear" :digits="0" /></td>
          <td class="quiet">
            {{
              near.kind === 'electrical-panel'
                ? near.holds
                  ? 'from its working space, which stays free'
                  : 'inside its working space: move the rack; the local code decides'
                : 'from a heater'
            }}
          </td>
        </tr>
      </tbody>
    </table>
    <svg :viewBox="`0 0 ${WIDE} ${HIGH + 0.1}`" role="img" aria-label="The rack on its wall, at scale">
      <line v-for="x in studs" :key="x" class="stud" :x1="x" :x2="x" y1="0.05" :y2="HIGH" />
      <g v-if="panel">
        <rect class="clear" :class="{ bad: !panel.holds }" :x="panel.x" :y="HIGH - 2" width="0.76" height="2" />
        <text :x="panel.x + 0.04" :y="HIGH - 1.86">kept free</text>
      </g>
      <rect
        v-if="plan.fixings.backing_board"
        class="board"
        :x="box.x - 0.1"
        :y="box.y - 0.1"
        :width="box.wide + 0.2"
        :height="box.high + 0.2"
      />
      <rect class="rack" :x="box.x" :y="box.y" :width="box.wide" :height="box.high" />
      <text :x="box.x + 0.04" :y="box.y + 0.14">{{ plan.elevation.label }}</text>
      <line class="floor" x1="0" :x2="WIDE" :y1="HIGH" :y2="HIGH" />
    </svg>
  </div>
</template>

<style scoped>
.place {
  min-height: 0;
  overflow: auto;
  display: flex;
  gap: 14px;
  align-items: flex-start;
}
.plain-table {
  flex: 1;
}
.plain-table td {
  white-space: normal;
}
.plain-table td:nth-child(2) {
  text-align: right;
  white-space: nowrap;
}
svg {
  flex: none;
  height: 150px;
  border: 1px solid var(--rule);
}
.stud {
  stroke: var(--ink-quiet);
  stroke-width: 0.012;
  stroke-dasharray: 0.05 0.03;
}
.clear {
  fill: none;
  stroke: var(--gorse);
  stroke-width: 0.015;
  stroke-dasharray: 0.04 0.03;
}
.clear.bad {
  stroke: var(--rust);
}
.board {
  fill: var(--paper-deep);
  stroke: var(--ink-quiet);
  stroke-width: 0.012;
}
.rack {
  fill: var(--paper-raised);
  stroke: var(--ink);
  stroke-width: 0.02;
}
.floor {
  stroke: var(--ink);
  stroke-width: 0.03;
}
text {
  font-size: 0.11px;
  fill: var(--ink);
}
</style>
