<script setup lang="ts">
/** Who may open connections to whom: a matrix to press, with the rules it means in words. */
import { computed } from 'vue'
import { api, take } from '@/api/client'
import type { FlowCell } from '@/api/schema'
import { useAsked } from '@/job/useAsked'
import { useJob } from '@/job/useJob'
import { useSelection } from '@/job/useSelection'
import { useSuggestion } from '@/stages/actions/useSuggestion'

const job = useJob()
const selection = useSelection()
const params = { path: { job_id: job.id } }
const { found, said } = useAsked(() => take(api.GET('/api/jobs/{job_id}/network/flows', { params })))
const { busy, suggest } = useSuggestion()
const names = computed(() => new Map(found.value?.columns as [string, string][] | undefined))

function press(cell: FlowCell): void {
  const body = { from_id: cell.from_id, to_id: cell.to_id }
  void suggest(
    () => take(api.POST('/api/jobs/{job_id}/network/flows', { params, body })),
    `${names.value.get(cell.from_id) ?? ''} ${cell.allowed ? 'no longer reaches' : 'may reach'} ${names.value.get(cell.to_id) ?? ''}`,
    'Nothing changes.',
  )
}
const itself = (cell: FlowCell): boolean => cell.from_id === cell.to_id
const label = (cell: FlowCell): string =>
  `${names.value.get(cell.from_id) ?? ''} to ${names.value.get(cell.to_id) ?? ''}: ${cell.allowed ? 'may open connections' : 'may not'}. ${cell.because}`
</script>

<template>
  <section class="panel" aria-label="Who reaches whom">
    <p v-if="said" class="fault lead" role="alert">▲ {{ said }}</p>
    <p v-if="found && !found.rows.length" class="quiet lead">
      Propose networks first: who may open connections to whom is pressed here, cell by cell.
    </p>
    <template v-else-if="found">
      <p class="quiet lead">
        A row opens connections, a column is reached; answers come back by themselves. Press a cell to turn it over;
        what was turned by hand carries a <span class="dot">•</span>.
      </p>
      <div class="side">
        <table class="matrix">
          <thead>
            <tr>
              <td></td>
              <th v-for="[id, name] in found.columns" :key="id" scope="col">
                <span>{{ name }}</span>
              </th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="row in found.rows" :key="row.network_id">
              <th scope="row">
                <button type="button" class="bare" @click="selection.select(row.network_id)">{{ row.label }}</button>
              </th>
              <td v-for="cell in row.cells" :key="cell.to_id" :class="{ itself: itself(cell) }">
                <button
                  v-if="!itself(cell)"
                  type="button"
                  class="cell"
                  :class="{ open: cell.allowed }"
                  :aria-pressed="cell.allowed"
                  :aria-label="label(cell)"
                  :title="cell.because"
                  :disabled="busy"
                  @click="press(cell)"
                >
                  {{ cell.allowed ? 'may' : '–' }}<span v-if="cell.by === 'person'" class="dot">•</span>
                </button>
              </td>
            </tr>
          </tbody>
        </table>
        <ul class="words">
          <li v-for="row in found.rows" :key="row.network_id">{{ row.words }}</li>
        </ul>
      </div>
    </template>
  </section>
</template>

<style scoped>
.panel {
  overflow: auto;
}
.side {
  display: flex;
  gap: 22px;
  padding: 0 12px 12px;
  align-items: flex-start;
}
.matrix {
  border-collapse: collapse;
  flex: none;
}
.matrix th[scope='col'] {
  font-weight: 400;
  font-size: 0.85rem;
  padding: 2px 4px;
  vertical-align: bottom;
}
.matrix th[scope='row'] {
  text-align: right;
  padding-right: 8px;
  font-weight: 400;
}
.matrix td {
  border: 1px solid var(--rule);
  padding: 0;
}
.matrix thead td {
  border: 0;
}
.itself {
  background: repeating-linear-gradient(45deg, var(--rule) 0 1px, transparent 1px 6px);
}
.cell {
  border: 0;
  background: none;
  color: var(--ink-quiet);
  font: inherit;
  min-width: 62px;
  height: 27px;
  cursor: pointer;
}
.cell.open {
  background: var(--tarn-tint, transparent);
  color: var(--tarn);
  font-weight: 700;
}
.cell:hover {
  outline: 1px solid var(--heather);
}
.dot {
  color: var(--heather);
  font-weight: 700;
}
.words {
  margin: 0;
  padding-left: 16px;
  font-size: 0.9rem;
  line-height: 1.4;
  max-width: 560px;
}
.words li + li {
  margin-top: 4px;
}
</style>
