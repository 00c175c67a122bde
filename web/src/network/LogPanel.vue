<script setup lang="ts">
/** What the controller wrote down, newest first. */
import { computed, watch } from 'vue'
import { api, take } from '@/api/client'
import { useAsked } from '@/job/useAsked'
import { useJob } from '@/job/useJob'
import { useController } from '@/network/useController'
import { useView } from '@/job/useView'

const job = useJob()
const view = useView()
const controller = useController()
if (!controller.connection) void controller.look()
const { found, said } = useAsked(
  () =>
    controller.connection?.connected
      ? take(api.GET('/api/jobs/{job_id}/controller/log', { params: { path: { job_id: job.id } } }))
      : null,
  [() => controller.live, () => controller.connection],
)
watch(
  () => controller.connection?.connected,
  (connected) => {
    if (connected === false) found.value = null
  },
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
  <section class="panel" aria-label="Log">
    <p v-if="said" class="fault lead" role="alert">▲ {{ said }}</p>
    <p v-if="!lines.length && !said" class="quiet lead">
      Connect a controller, or set up a simulated one: what it writes down stands here.
      <button type="button" class="ink-button" @click="view.panel = 'Controller'">Controller</button>
    </p>
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
.panel {
  overflow: auto;
}
.plain-table .left {
  text-align: left;
}
</style>
