<script setup lang="ts">
/** Runs as tracks on the sheet: the legs on this storey, outdoor parts dashed longer. */
import { computed } from 'vue'
import { useAssessment } from '@/job/useAssessment'
import { useFailing } from '@/links/useFailing'
import { useSelection } from '@/job/useSelection'
import { useView } from '@/job/useView'

const props = defineProps<{ k: number; strong: boolean }>()
const emit = defineEmits<{ grab: [event: PointerEvent, run: string, leg: number] }>()
const assessment = useAssessment()
const view = useView()
const selection = useSelection()
const failing = useFailing()

const tracks = computed(() =>
  (assessment.found?.runs ?? []).map((run) => ({
    id: run.run_id,
    label: run.label,
    holds: run.holds,
    legs: run.legs
      .map((leg, n) => ({ ...leg, n }))
      .filter((leg) => leg.storey_id === view.storey?.id && (leg.a.x_m !== leg.b.x_m || leg.a.y_m !== leg.b.y_m)),
  })),
)
function px(value: number): number {
  return value / props.k
}
</script>

<template>
  <g class="runs" :class="{ faint: !strong }">
    <g
      v-for="run in tracks"
      :key="run.id"
      class="run"
      :class="{ chosen: selection.selected === run.id, over: !run.holds, gone: failing.erased.has(run.id) }"
      @click="selection.pick($event, run.id)"
    >
      <line
        v-for="(leg, i) in run.legs"
        :key="i"
        :x1="leg.a.x_m"
        :y1="leg.a.y_m"
        :x2="leg.b.x_m"
        :y2="leg.b.y_m"
        :stroke-width="px(selection.selected === run.id ? 2.6 : 1.3)"
        :stroke-dasharray="leg.environment === 'outdoor' ? `${px(9)} ${px(3)}` : `${px(4)} ${px(2.5)}`"
      />
      <line
        v-for="(leg, i) in strong ? run.legs : []"
        :key="`c${i}`"
        class="catch"
        :x1="leg.a.x_m"
        :y1="leg.a.y_m"
        :x2="leg.b.x_m"
        :y2="leg.b.y_m"
        :stroke-width="px(7)"
        @pointerdown="emit('grab', $event, run.id, leg.n)"
      />
    </g>
  </g>
</template>

<style scoped>
.run line {
  stroke: var(--tarn);
  fill: none;
}
.run.over line {
  stroke: var(--rust);
}
.run.gone {
  opacity: 0.15;
}
.run.chosen line {
  stroke: var(--heather);
}
.run line.catch {
  stroke: transparent;
  cursor: pointer;
}
.faint {
  opacity: 0.5;
  pointer-events: none;
}
</style>
