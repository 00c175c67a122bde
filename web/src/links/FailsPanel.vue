<script setup lang="ts">
/** Every cable, box, building and supply failed one by one: who is cut off, who takes over and how fast, what mends it. */
import { computed, onUnmounted, ref, shallowRef, watch } from 'vue'
import type { FailureOf, Failures } from '@/api/schema'
import { api, take } from '@/api/client'
import { useGuarded } from '@/api/useGuarded'
import { useAssessment } from '@/job/useAssessment'
import { useJob } from '@/job/useJob'
import { useFailing } from '@/links/useFailing'
import { useUnits } from '@/units/useUnits'

const job = useJob()
const units = useUnits()
const failing = useFailing()
const assessment = useAssessment()
const { said, busy, guarded } = useGuarded()
const found = shallowRef<Failures | null>(null)
const kind = ref('')
const kinds = computed(() => new Map((found.value?.all ?? []).map((one) => [one.kind, one.kind_label])))
const rows = computed(() => (found.value?.all ?? []).filter((one) => !kind.value || one.kind === kind.value))
const harmless = computed(() => (found.value?.all ?? []).filter((one) => !one.harm).length)

watch(
  () => assessment.revision,
  async () => {
    const params = { path: { job_id: job.id } }
    const answer = await guarded(() => take(api.GET('/api/jobs/{job_id}/links/failures', { params })))
    if (!answer) return
    found.value = answer
    failing.shown = answer.all.find((one) => one.code === failing.shown?.code) ?? null
  },
  { immediate: true },
)
onUnmounted(() => {
  failing.shown = null
})
/** So many are named, the rest counted. */
function named(labels: readonly string[], most = 6): string {
  const more = labels.length - most
  return labels.slice(0, most).join(', ') + (more > 0 ? ` and ${more} more` : '')
}
function lost(one: FailureOf): string {
  return named(one.spaces.filter((space) => space.lost).map((space) => space.label))
}
</script>

<template>
  <section class="panel" aria-label="What fails" :aria-busy="busy">
    <p v-if="said" class="fault lead" role="alert">▲ {{ said }}</p>
    <p class="head">
      <label
        >Fail
        <select v-model="kind" class="field">
          <option value="">everything, one by one</option>
          <option v-for="[code, label] in kinds" :key="code" :value="code">{{ label }}</option>
        </select>
      </label>
      <span v-if="found" class="quiet">
        {{ found.all.length - harmless }} of {{ found.all.length }} single failures cost something, the worst first.
      </span>
    </p>
    <table v-if="rows.length" class="plain-table">
      <thead>
        <tr>
          <th>Fails</th>
          <th class="wide">Cut off</th>
          <th class="wide">Spaces that lose their need</th>
          <th><span class="visually-hidden">On the sheet</span></th>
        </tr>
      </thead>
      <tbody>
        <template v-for="one in rows" :key="one.code">
          <tr :class="{ chosen: failing.shown?.code === one.code }">
            <th scope="row">
              <span :class="one.harm ? 'advice' : 'holds'" aria-hidden="true">{{ one.harm ? '▲' : '✓' }}</span>
              {{ one.label }} <span class="quiet kind">{{ one.kind_label.toLowerCase() }}</span>
            </th>
            <td class="wide">{{ one.cut.length ? `${one.cut.length}: ${named(one.cut_labels)}` : 'nothing' }}</td>
            <td class="wide">{{ lost(one) || 'none' }}</td>
            <td>
              <button
                type="button"
                class="ink-button"
                :aria-pressed="failing.shown?.code === one.code"
                :aria-label="`Show ${one.label} failed`"
                @click="failing.show(one)"
              >
                Show
              </button>
            </td>
          </tr>
          <tr v-if="failing.shown?.code === one.code" class="more chosen">
            <td colspan="4">
              <p v-for="space in one.spaces" :key="space.space_id" :class="{ fault: space.lost }">
                {{ space.lost ? '▲' : '✓' }} {{ space.label }}: {{ Math.round(space.share * 100) }} % still served
                <template v-if="space.by.length"
                  >by {{ named(space.by, 3) }}, {{ units.quantity(space.edge_mbps, 'Mb/s', 0) }} at its edge</template
                ><template v-else>by nobody</template>
              </p>
              <p class="mend">{{ one.harm ? one.mend : 'It costs nothing by itself.' }}</p>
            </td>
          </tr>
        </template>
      </tbody>
    </table>
  </section>
</template>

<style scoped>
.plain-table {
  width: 100%;
}
.plain-table .wide {
  white-space: normal;
  width: 36%;
  line-height: 1.3;
}
.kind {
  font-size: 0.85rem;
}
.chosen {
  background: var(--heather-tint);
}
.plain-table .more td {
  white-space: normal;
}
.more p {
  margin: 1px 0;
  line-height: 1.35;
}
.mend {
  color: var(--ink-quiet);
}
</style>
