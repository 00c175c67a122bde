<script setup lang="ts">
/** What the controller wrote down, newest first. */
import { computed } from 'vue'
import { api, take } from '@/api/client'
import { useAsked } from '@/job/useAsked'
import { useJob } from '@/job/useJob'
import { useController } from '@/network/useController'

const job = useJob()
const controller = useController()
const { found, said } = useAsked(
  () =>
    controller.connection?.connected
      ? take(api.GET('/api/jobs/{job_id}/controller/log', { params: { path: { job_id: job.id } } }))
      : null,
  [() => controller.live],
)
const names = computed(
  () => new Map((controller.live?.matched.matches ?? []).map((match) => [match.serial, match.label])),
)
const lines = computed(() =>
  (found.value?.lines ?? []).toReversed().map((line) => ({
    ...line,
    at: new Date(1000 * line.at_s).toISOString().replace('T', ' ').slice(0, 19),
    who: names.value.get(line.serial) ?? line.serial,
  })),
)
</script>

<template>
  <section aria-label="Log">
    <p v-if="said" class="fault" role="alert">▲ {{ said }}</p>
    <p v-if="!lines.length && !said" class="quiet">Nothing is written down yet.</p>
    <table v-else class="plain-table">
      <thead>
        <tr>
          <th>By its clock</th>
          <th>Of</th>
          <th>What</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(line, n) in lines" :key="n">
          <td class="mono left">{{ line.at }}</td>
          <th scope="row">{{ line.who }}</th>
          <td :class="{ fault: line.grave }"><template v-if="line.grave">▲ </template>{{ line.words }}</td>
        </tr>
      </tbody>
    </table>
  </section>
</template>

<style scoped>
.plain-table .left {
  text-align: left;
}
</style>
