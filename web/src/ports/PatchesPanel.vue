<script setup lang="ts">
/** From cable to panel to cord to port: the list a person patches by, with cord lengths and colours. */
import { computed } from 'vue'
import { api, take } from '@/api/client'
import { useAsked } from '@/job/useAsked'
import { useJob } from '@/job/useJob'
import { useSelection } from '@/job/useSelection'
import SumNumber from '@/ledger/SumNumber.vue'
import SaveAs from '@/stages/actions/SaveAs.vue'
import { useSuggestion } from '@/stages/actions/useSuggestion'

const job = useJob()
const selection = useSelection()
const params = { path: { job_id: job.id } }
const { found, said } = useAsked(() => take(api.GET('/api/jobs/{job_id}/ports/patches', { params })))
const { busy, suggest } = useSuggestion()
const files = { 'patches.csv': 'CSV', 'patches.xlsx': 'Workbook', 'racks.pdf?paper=A3': 'PDF A3 with the racks' }
const save = (file: string) => `/api/jobs/${job.id}/export/${file}`
const all = computed(() => (found.value?.racks ?? []).flatMap((rack) => rack.patches.map((patch) => ({ rack, patch }))))
const open = computed(() => all.value.filter(({ patch }) => patch.panel_id && patch.state === 'proposed').length)
const cords = computed(() => (found.value?.racks ?? []).flatMap((rack) => rack.cords))
const unlanded = computed(() =>
  (found.value?.racks ?? []).flatMap((rack) => rack.unlanded).map((id) => job.elements.get(id)?.label ?? ''),
)
const decide = () =>
  suggest(
    () => take(api.POST('/api/jobs/{job_id}/ports/patches', { params })),
    'Decide where cables land',
    'Every cable’s place on its panel is decided.',
  )
</script>

<template>
  <section class="panel" aria-label="Patches">
    <p v-if="said" class="fault lead" role="alert">▲ {{ said }}</p>
    <p v-if="found && !all.length" class="quiet lead">
      Run cables to a rack: where each lands on its panel, and by which cord it reaches its port, stands here.
    </p>
    <template v-else-if="found">
      <p class="head">
        <SaveAs label="Save the patches as" first="Save as…" :files="files" :href="save" />
        <button v-if="open" type="button" class="ink-button" :disabled="busy" @click="decide">
          Decide where {{ open }} land
        </button>
        <span v-if="cords.length" class="quiet">
          Cords:
          <span v-for="([name, count], n) in cords" :key="name">{{ n ? ', ' : '' }}{{ count }} × {{ name }}</span>
        </span>
        <span v-else class="quiet"
          >No panel stands in a rack: cables are plugged straight in, which is right for a handful. Add a patch panel to
          the rack for many or growing runs.</span
        >
        <span v-if="unlanded.length" class="fault">▲ No panel port is left for {{ unlanded.join(', ') }}.</span>
      </p>
      <table class="plain-table">
        <thead>
          <tr>
            <th>Run</th>
            <th>To</th>
            <th>Panel</th>
            <th class="number">Its port</th>
            <th>Cord</th>
            <th class="number">Length</th>
            <th>Switch</th>
            <th class="number">Port</th>
            <th>Is</th>
          </tr>
        </thead>
        <tbody>
          <tr
            v-for="{ rack, patch } in all"
            :key="`${rack.rack_id}${patch.run_id}${patch.side}`"
            :class="{ chosen: selection.selected === patch.run_id }"
          >
            <th scope="row">
              <button type="button" class="bare" @click="selection.select(patch.run_id)">{{ patch.run_label }}</button>
            </th>
            <td>{{ patch.to_label }}</td>
            <td>{{ patch.panel || '–' }}</td>
            <td class="mono">{{ patch.panel_port || '–' }}</td>
            <td>
              <template v-if="patch.cord"
                ><b class="mono">{{ patch.letter }}</b> {{ patch.colour }}</template
              ><template v-else>–</template>
            </td>
            <td class="number"><SumNumber v-if="patch.cord" :sum="patch.cord" /><template v-else>–</template></td>
            <td>{{ patch.switch || '–' }}</td>
            <td class="mono">{{ patch.port || '–' }}</td>
            <td class="quiet">{{ patch.state }}</td>
          </tr>
        </tbody>
      </table>
    </template>
  </section>
</template>

<style scoped>
.panel {
  overflow: auto;
}
.chosen {
  background: var(--heather-tint);
}
.number {
  text-align: right;
}
</style>
