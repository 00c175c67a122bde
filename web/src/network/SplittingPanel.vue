<script setup lang="ts">
/** Two questions of names on which good installers differ, with what each way costs in this building. */
import { api, take } from '@/api/client'
import { useAsked } from '@/job/useAsked'
import { useJob } from '@/job/useJob'
import NamingsTable from '@/links/NamingsTable.vue'
import SumNumber from '@/ledger/SumNumber.vue'
import { useSuggestion } from '@/stages/actions/useSuggestion'

const job = useJob()
const params = { path: { job_id: job.id } }
const bands = useAsked(() => take(api.GET('/api/jobs/{job_id}/network/splittings', { params })))
const points = useAsked(() => take(api.GET('/api/jobs/{job_id}/links/namings', { params })))
const { busy, suggest } = useSuggestion()
const choose = (code: string, choice: number, label: string): Promise<void> =>
  suggest(
    () => take(api.POST('/api/jobs/{job_id}/network/practice', { params, body: { code, choice } })),
    `House practice: ${label}`,
    'That is the practice already.',
  )
</script>

<template>
  <section class="panel" aria-label="One name or many">
    <template v-if="bands.found.value">
      <h3>
        {{ bands.found.value.question }} <span class="quiet">{{ bands.found.value.why }}</span>
      </h3>
      <table class="plain-table">
        <thead>
          <tr>
            <th>Way</th>
            <th class="number">Beacons, where worst</th>
            <th class="number">Names seen</th>
            <th class="number">Changes by hand</th>
            <th>What it means</th>
            <td></td>
          </tr>
        </thead>
        <tbody>
          <tr v-for="way in bands.found.value.ways" :key="way.choice" :class="{ house: way.chosen }">
            <th scope="row">{{ way.label }}</th>
            <td class="number"><SumNumber v-if="way.beacons" :sum="way.beacons" /><template v-else>–</template></td>
            <td class="number"><SumNumber :sum="way.names" :digits="0" plain /></td>
            <td class="number"><SumNumber :sum="way.by_hand" :digits="0" plain /></td>
            <td class="words">{{ way.says }}</td>
            <td>
              <span v-if="way.chosen" class="holds">✓ practice here</span>
              <button
                v-else
                type="button"
                class="ink-button"
                :disabled="busy"
                @click="choose('band-names', way.choice, way.label)"
              >
                Make it the practice
              </button>
            </td>
          </tr>
        </tbody>
      </table>
      <p class="quiet lead">
        The practice decides what is proposed from now on; names that are there stay as they are.
      </p>
    </template>
    <template v-if="points.found.value">
      <h3>Names across points <span class="quiet">Walking needs one name; pinned devices may like their own.</span></h3>
      <p v-if="!points.found.value.walks" class="quiet lead">
        Draw a walk in stage 3, from room to room as people go; what each way costs stands here.
      </p>
      <NamingsTable v-else :ways="points.found.value.ways" />
      <p class="lead">
        <button
          type="button"
          class="ink-button"
          :disabled="busy"
          @click="choose('point-names', 0, 'one for all points')"
        >
          One name for all points
        </button>
        <button type="button" class="ink-button" :disabled="busy" @click="choose('point-names', 1, 'one per point')">
          A name at each point
        </button>
      </p>
    </template>
    <p
      v-for="said in [bands.said.value, points.said.value].filter(Boolean)"
      :key="said ?? ''"
      class="fault lead"
      role="alert"
    >
      ▲ {{ said }}
    </p>
  </section>
</template>

<style scoped>
.panel {
  overflow: auto;
}
h3 {
  margin: 10px 12px 2px;
  font-size: 0.95rem;
}
h3 .quiet {
  font-weight: 400;
  font-size: 0.86rem;
}
.number {
  text-align: right;
}
.words {
  width: 36%;
}
.house th {
  font-weight: 700;
}
.lead button {
  margin-right: 6px;
}
</style>
