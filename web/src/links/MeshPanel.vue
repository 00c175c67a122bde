<script setup lang="ts">
/** Access points without a cable: which one each hangs on or would best hang on, how loud, over how many hops. */
import type { MeshNode } from '@/api/schema'
import { api, take } from '@/api/client'
import { useGuarded } from '@/api/useGuarded'
import { useAsked } from '@/job/useAsked'
import { useJob } from '@/job/useJob'
import type { Operation } from '@/job/types'
import { useSelection } from '@/job/useSelection'
import { useView } from '@/job/useView'
import { useUnits } from '@/units/useUnits'

const job = useJob()
const view = useView()
const units = useUnits()
const selection = useSelection()
const { said: refused, busy, guarded } = useGuarded()
const { found, said } = useAsked(() =>
  take(api.GET('/api/jobs/{job_id}/links/mesh', { params: { path: { job_id: job.id } } })),
)

async function hangAll(): Promise<void> {
  const params = { path: { job_id: job.id } }
  await job.during(async () => {
    await guarded(async () => {
      await job.mustBeSaved()
      const answer = await take(api.POST('/api/jobs/{job_id}/links/mesh', { params }))
      job.edit('Hang points on each other', answer.operations as Operation[])
    })
  })
}
function state(node: MeshNode): string {
  if (!node.holds) return node.why_not
  const words = node.link_id ? [] : ['proposed']
  if (!node.same_channel && node.link_id) words.push('on another channel than its parent')
  if (node.aside) words.push('over a radio set aside')
  return words.join(', ')
}
</script>

<template>
  <section class="panel" aria-label="Mesh">
    <p v-if="said || refused" class="fault" role="alert">▲ {{ said || refused }}</p>
    <p v-if="found && !found.nodes.length" class="quiet lead">
      {{
        found.wired
          ? 'Every access point has a cable: nothing hangs on the air, and nothing better can be said of a network.'
          : 'Place access points, and run a cable to some; what hangs on the others by air is planned here.'
      }}
    </p>
    <template v-if="found?.nodes.length">
      <p class="lead">
        {{ found.nodes.length }} without a cable, {{ found.wired }} with one. The most capable points get the cables;
        the first without one stands where its parent is strong.
        <button v-if="found.can_hang" type="button" class="ink-button" :disabled="busy" @click="hangAll">
          Hang all on the best they hear
        </button>
      </p>
      <table class="plain-table">
        <thead>
          <tr>
            <th>Access point</th>
            <th>Hangs on</th>
            <th class="number">Heard</th>
            <th class="number">Hops</th>
            <th class="number">Carries</th>
            <th>Second</th>
            <th>State</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="node in found.nodes" :key="node.node_id">
            <th scope="row">
              <button type="button" class="bare" @click="selection.select(node.node_id)">
                <span :class="node.holds ? 'holds' : 'fault'" aria-hidden="true">{{ node.holds ? '✓' : '▲' }}</span>
                {{ node.label }}
              </button>
            </th>
            <td>{{ node.parent_label || '–' }}</td>
            <td class="mono">
              <button
                v-if="node.level"
                type="button"
                class="bare sum-link"
                :class="{ fault: !node.level.holds }"
                @click="view.openSum = node.level"
              >
                {{ units.quantity(node.level.value, 'dBm', 0) }}
              </button>
            </td>
            <td class="mono">{{ node.hops || '–' }}</td>
            <td class="mono">
              <button
                v-if="node.throughput"
                type="button"
                class="bare sum-link"
                @click="view.openSum = node.throughput"
              >
                {{ units.quantity(node.mbps, 'Mb/s', 0) }}
              </button>
            </td>
            <td>
              <template v-if="node.second_label"
                >{{ node.second_label }}
                <span class="quiet mono">{{ units.quantity(node.second_dbm ?? 0, 'dBm', 0) }}</span></template
              >
              <span v-else-if="node.hops" class="advice">◇ none</span>
            </td>
            <td class="words" :class="{ fault: !node.holds }">{{ state(node) }}</td>
          </tr>
        </tbody>
      </table>
    </template>
  </section>
</template>

<style scoped>
.lead {
  margin: 6px 12px 8px;
  line-height: 1.4;
}
.plain-table {
  max-width: 980px;
}
</style>
