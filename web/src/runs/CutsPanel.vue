<script setup lang="ts">
/** Which run is cut from which box, a cable each: nothing spliced, as few boxes as can be. */
import type { CableCuts } from '@/api/schema'
import { api, take } from '@/api/client'
import { useAsked } from '@/job/useAsked'
import { useJob } from '@/job/useJob'
import { useSelection } from '@/job/useSelection'
import { useUnits } from '@/units/useUnits'

const job = useJob()
const units = useUnits()
const selection = useSelection()
const { found, said, busy } = useAsked(() =>
  take(api.GET('/api/jobs/{job_id}/runs/cuts', { params: { path: { job_id: job.id } } })),
)

function howGood(cable: CableCuts): string {
  const count = cable.boxes.length
  const saved = cable.first_fit - count
  const better = saved ? `, ${saved} fewer than the longest first` : ''
  return cable.proven ? `no list has fewer${better}` : `none has fewer than ${cable.bound}${better}`
}
</script>

<template>
  <section class="panel" aria-label="Cut list" :aria-busy="busy">
    <p v-if="said" class="fault" role="alert">▲ {{ said }}</p>
    <p v-if="found && !found.cables.length" class="quiet lead">
      Run cables; which run is cut from which box stands here.
    </p>
    <div v-for="cable in found?.cables ?? []" :key="cable.cable" class="cable">
      <h3>
        {{ cable.cable_label }}
        <span class="quiet">{{ cable.boxes.length }} to buy, {{ howGood(cable) }}</span>
      </h3>
      <p v-for="cut in cable.too_long" :key="cut.run_id" class="fault">
        ▲ {{ cut.label }} takes {{ units.quantity(cut.length_m, 'm') }} in one piece; no box holds that.
      </p>
      <table class="plain-table">
        <thead>
          <tr>
            <th>Box</th>
            <th class="number">Holds</th>
            <th class="cuts">Cut in this order</th>
            <th class="number">Left</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="box in cable.boxes" :key="box.number">
            <th scope="row" class="mono">{{ box.number }}</th>
            <td class="mono">{{ units.quantity(box.box_m, 'm', 0) }}</td>
            <td class="cuts">
              <button
                v-for="cut in box.cuts"
                :key="cut.run_id"
                type="button"
                class="bare cut"
                @click="selection.select(cut.run_id)"
              >
                {{ cut.label }} <span class="mono quiet">{{ units.quantity(cut.length_m, 'm', 1) }}</span>
              </button>
            </td>
            <td class="mono">{{ units.quantity(box.left_m, 'm', 1) }}</td>
          </tr>
        </tbody>
      </table>
    </div>
  </section>
</template>

<style scoped>
.cable {
  margin-bottom: 12px;
}
h3 {
  margin: 6px 12px 2px;
  font-size: 0.95rem;
}
h3 .quiet {
  font-weight: 400;
  margin-left: 8px;
}
.plain-table {
  width: 100%;
}
.plain-table .cuts {
  width: 100%;
  white-space: normal;
}
.cut {
  display: inline-block;
  min-height: 24px;
  margin-right: 14px;
  white-space: nowrap;
}
</style>
