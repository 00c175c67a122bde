<script setup lang="ts">
/** The one device too many: what may be done about each device that is not fed, tried and priced, to choose from. */
import type { WayOut } from '@/api/schema'
import { api, take } from '@/api/client'
import { useAsked } from '@/job/useAsked'
import { useJob } from '@/job/useJob'
import { useSelection } from '@/job/useSelection'
import SumNumber from '@/ledger/SumNumber.vue'
import { useSuggestion } from '@/stages/actions/useSuggestion'

const job = useJob()
const selection = useSelection()
const params = { path: { job_id: job.id } }
const { found, said } = useAsked(() => take(api.GET('/api/jobs/{job_id}/ports/unfed', { params })))
const { busy, suggest } = useSuggestion()
function choose(run: string, way: WayOut): Promise<void> {
  const ask = () => take(api.POST('/api/jobs/{job_id}/ports/unfed', { params, body: { run, way: way.code } }))
  return suggest(ask, way.label, 'It is fed already.')
}
</script>

<template>
  <p v-if="said" class="fault lead" role="alert">▲ {{ said }}</p>
  <section v-for="device in found?.devices ?? []" :key="device.run_id" :aria-label="`Ways out for ${device.label}`">
    <p>
      <span class="fault" aria-hidden="true">▲</span>
      <button type="button" class="bare" @click="selection.select(device.run_id)">
        <b>{{ device.label }}</b>
      </button>
      asks for class {{ device.asks_class }} and gets
      {{ device.gives_class ? `class ${device.gives_class}` : 'no power' }}.
      <span v-if="device.gives_up" class="quiet">It would run with less: {{ device.gives_up }}.</span>
    </p>
    <table class="plain-table">
      <thead>
        <tr>
          <th>Way out</th>
          <th class="number">Cost</th>
          <th>Then</th>
          <th>What to know</th>
          <th><span class="visually-hidden">Choose</span></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="way in device.ways" :key="way.code">
          <th scope="row" class="label">{{ way.label }}</th>
          <td class="number"><SumNumber :sum="way.cost" plain /></td>
          <td>
            <span v-if="way.holds && !way.faults" class="holds">✓ fed</span>
            <span v-else-if="way.holds" class="advice">◇ fed, {{ way.faults }} others are not</span>
            <span v-else class="fault">▲ not fed</span>
          </td>
          <td class="words">{{ way.says }}</td>
          <td>
            <button
              type="button"
              class="ink-button"
              :disabled="busy"
              :aria-label="`Choose: ${way.label}`"
              @click="choose(device.run_id, way)"
            >
              Choose
            </button>
          </td>
        </tr>
      </tbody>
    </table>
  </section>
  <p v-if="found?.more" class="lead advice">
    ◇ {{ found.more }} more are not fed: a switch is too small. The findings say which.
  </p>
</template>

<style scoped>
section {
  margin: 4px 12px 14px;
}
p {
  margin: 0 0 2px;
}
.number {
  text-align: right;
}
.plain-table .label {
  white-space: normal;
  min-width: 16rem;
  line-height: 1.3;
}
</style>
