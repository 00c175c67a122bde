<script setup lang="ts">
/** Power of every switch: three limits side by side, cases of a day and a year, who is shed first, who takes over. */
import { computed } from 'vue'
import type { CaseOfLoad, SwitchLoad } from '@/api/schema'
import { api, take } from '@/api/client'
import { useAsked } from '@/job/useAsked'
import { useJob } from '@/job/useJob'
import { useSelection } from '@/job/useSelection'
import SumNumber from '@/ledger/SumNumber.vue'
import TooManyPart from '@/ports/TooManyPart.vue'
import { useUnits } from '@/units/useUnits'

const job = useJob()
const units = useUnits()
const selection = useSelection()
const params = { path: { job_id: job.id } }
const { found, said, busy } = useAsked(() => take(api.GET('/api/jobs/{job_id}/ports/loads', { params })))
const switches = computed(() => found.value?.switches ?? [])
const share = (one: CaseOfLoad): number => Math.min(100, (100 * one.watts.value) / (one.watts.limit || 1))
const free = (one: SwitchLoad): string => `${100 - (one.free.limit ?? 0)}%`
// So many are named, the others counted.
const MOST = 5
function named(labels: readonly string[]): string {
  const more = labels.length - MOST
  return labels.slice(0, MOST).join(', ') + (more > 0 ? ` and ${more} more` : '')
}
</script>

<template>
  <section class="panel" aria-label="Loads" :aria-busy="busy">
    <p v-if="said" class="fault lead" role="alert">▲ {{ said }}</p>
    <TooManyPart />
    <p v-if="found && !switches.length" class="quiet lead">
      Add a switch that feeds devices: what it may be asked for, on which day, and who is let go first stands here.
    </p>
    <article v-for="one in switches" :key="one.switch_id">
      <header>
        <h3>
          <button type="button" class="bare" @click="selection.select(one.switch_id)">{{ one.label }}</button>
          <span class="quiet">{{ one.model_label }}</span>
        </h3>
        <dl>
          <div>
            <dt>Class at a port</dt>
            <dd><SumNumber :sum="one.cap" :digits="0" /> of {{ one.cap.limit }}</dd>
          </div>
          <div>
            <dt>Fed ports</dt>
            <dd><SumNumber :sum="one.number" :digits="0" /> of {{ one.number.limit }}</dd>
          </div>
          <div>
            <dt>Total by {{ one.method }}</dt>
            <dd>
              <SumNumber :sum="one.total" /> of
              <span class="mono">{{ units.quantity(one.total.limit ?? 0, 'W', 0) }}</span>
            </dd>
          </div>
          <div>
            <dt>Free</dt>
            <dd><SumNumber :sum="one.free" :digits="0" /> of {{ one.free.limit }} % wanted</dd>
          </div>
          <div>
            <dt>By class, maximum, typical</dt>
            <dd class="mono">
              <SumNumber :sum="one.by_class" :digits="0" plain /> ·
              <SumNumber :sum="one.by_maximum" :digits="0" plain /> ·
              <SumNumber :sum="one.by_typical" :digits="0" plain />
            </dd>
          </div>
        </dl>
      </header>
      <p v-if="one.forced" class="quiet note">
        It does not negotiate watts: every port reserves its class, whatever is drawn.
      </p>
      <table class="plain-table">
        <tbody>
          <tr v-for="load in one.cases" :key="load.code">
            <th scope="row" :title="load.why">{{ load.label }}</th>
            <td class="bar">
              <span class="track" aria-hidden="true"
                ><span class="fill" :class="{ over: !load.watts.holds }" :style="{ width: `${share(load)}%` }" /><span
                  class="fifth"
                  :style="{ left: free(one) }"
              /></span>
            </td>
            <td><SumNumber :sum="load.watts" :digits="0" /></td>
            <td class="words">
              <template v-if="load.shed.length"
                >lets go of
                <template v-for="(gone, n) in load.shed.slice(0, MOST)" :key="gone.run_id"
                  >{{ n ? ', ' : '' }}{{ gone.label }} ({{ gone.priority }}, <SumNumber :sum="gone.watts" />)</template
                ><template v-if="load.shed.length > MOST"> and {{ load.shed.length - MOST }} more</template></template
              ><span v-else class="holds">✓ all stay on</span>
            </td>
          </tr>
          <tr v-for="other in one.over" :key="other.switch_id">
            <th scope="row">{{ one.label }} lost</th>
            <td colspan="3" class="words">
              {{ other.label }} can take over {{ other.takes.length ? named(other.takes) : 'nothing'
              }}<template v-if="other.left.length"
                >;
                <span class="advice"
                  >{{ named(other.left) }} {{ other.left.length === 1 ? 'stays' : 'stay' }} dark</span
                ></template
              >
            </td>
          </tr>
        </tbody>
      </table>
    </article>
  </section>
</template>

<style scoped>
.panel {
  overflow: auto;
}
article {
  margin: 2px 12px 12px;
}
header {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 22px;
  align-items: baseline;
}
h3 {
  margin: 0;
  font-size: 1rem;
}
h3 .quiet {
  font-weight: 400;
  font-size: 0.85rem;
}
dl {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 18px;
  margin: 0;
  font-size: 0.9rem;
}
dl div {
  display: flex;
  gap: 6px;
}
dt {
  color: var(--ink-quiet);
}
dd {
  margin: 0;
}
.note {
  margin: 0;
  font-size: 0.88rem;
}
.bar {
  width: 170px;
  vertical-align: middle;
}
.track {
  position: relative;
  display: block;
  height: 9px;
  border: 1px solid var(--ink-quiet);
}
.fill {
  display: block;
  height: 100%;
  background: var(--tarn);
}
.fill.over {
  background: repeating-linear-gradient(45deg, var(--rust) 0 3px, transparent 3px 5px);
}
.fifth {
  position: absolute;
  top: -3px;
  bottom: -3px;
  border-left: 1px dashed var(--ink);
}
</style>
