<script setup lang="ts">
/** Places where a cable is often forgotten at this kind of site: wanted or not. */
import { computed } from 'vue'
import { useBrief } from '@/brief/useBrief'
import { useAssessment } from '@/job/useAssessment'
import { useLibrary } from '@/job/useLibrary'

const assessment = useAssessment()
const library = useLibrary()
const { brief, change } = useBrief()
const drops = computed(() => assessment.found?.drops ?? [])

function say(code: string, wanted: boolean): void {
  const now = (brief.value?.drops ?? []).find((d) => d.drop === code)
  const others = (brief.value?.drops ?? []).filter((d) => d.drop !== code)
  const same = now?.wanted === wanted
  change('Answer a forgotten drop', {
    drops: same ? others : [...others, { drop: code, wanted, note: now?.note ?? '' }],
  })
}
</script>

<template>
  <table class="drops" aria-label="Forgotten drops">
    <thead>
      <tr>
        <th scope="col">Place</th>
        <th scope="col">Wanted</th>
        <th scope="col">Usually a</th>
        <th scope="col">Why ask</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="d in drops" :key="d.code">
        <th scope="row">
          <span :class="d.wanted === null ? 'advice' : 'holds'" aria-hidden="true">{{
            d.wanted === null ? '●' : '✓'
          }}</span>
          {{ d.label }}
        </th>
        <td>
          <span role="group" :aria-label="`${d.label} wanted`"
            ><button type="button" class="ink-button" :aria-pressed="d.wanted === true" @click="say(d.code, true)">
              yes</button
            ><button type="button" class="ink-button" :aria-pressed="d.wanted === false" @click="say(d.code, false)">
              no
            </button></span
          >
        </td>
        <td class="quiet">{{ d.device ? library.shelves?.equipment[d.device]?.label : '' }}</td>
        <td class="quiet">{{ d.why }}</td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
.drops {
  border-collapse: collapse;
  font-size: 0.93rem;
}
th {
  text-align: left;
  font-weight: 400;
}
thead th {
  color: var(--ink-quiet);
}
td,
th {
  padding: 4px 16px 4px 0;
  border-bottom: 1px solid var(--rule);
}
td span {
  display: inline-flex;
}
.ink-button + .ink-button {
  margin-left: -1px;
}
</style>
