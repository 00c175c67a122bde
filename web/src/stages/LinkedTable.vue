<script setup lang="ts">
/** A table linked both ways with the sheet: a row selects there, a selection marks its row. */
import Column from 'primevue/column'
import DataTable from 'primevue/datatable'
import { useLocalStorage } from '@vueuse/core'
import { computed } from 'vue'
import { useSelection } from '@/job/useSelection'
import { useView } from '@/job/useView'
import ColumnsButton from '@/stages/ColumnsButton.vue'
import type { Cell, Row, Table } from '@/stages/tables'
import { useUnits } from '@/units/useUnits'

/** Columns of words that may take more than one line. */
const WRAPPED: ReadonlySet<string> = new Set(['why', 'item', 'cable'])
const props = defineProps<{ table: Table }>()
const view = useView()
const selection = useSelection()
const units = useUnits()

type Flat = Row & { sort: Record<string, string | number> }
const known = new WeakMap<Row, Flat>()
/** A row with what it is sorted by; the same for the same row. */
function flattened(row: Row): Flat {
  const sort = Object.entries(row.cells).map(([key, cell]) => [key, cell.value ?? cell.text ?? ''] as const)
  const made = known.get(row) ?? { ...row, sort: Object.fromEntries(sort) }
  known.set(row, made)
  return made
}
/** Columns a person put away here, per table. */
const away = useLocalStorage<string[]>(() => `heathrise.away.${props.table.name}`, [])
const named = computed(() => props.table.columns.filter((column) => column.name !== ''))
const columns = computed(() =>
  props.table.columns.filter((column, n) => n === 0 || column.name === '' || !away.value.includes(column.key)),
)
const flat = computed(() => props.table.rows.map(flattened))
function shown(cell: Cell | undefined): string {
  if (!cell) return ''
  return cell.value === undefined ? (cell.text ?? '') : units.quantity(cell.value, cell.unit ?? '', cell.digits)
}
function rowClass(row: Row): string {
  return row.selects && selection.isChosen(row.selects) ? 'chosen' : ''
}
/** Ctrl or Shift and a press: one more of many, which the margin then sets at once. */
function press(event: { data: Row; originalEvent: Event }): void {
  const id = event.data.selects
  const by = event.originalEvent
  if (!id) return
  if (by instanceof MouseEvent && (by.ctrlKey || by.metaKey || by.shiftKey)) selection.addToMany(id)
  else selection.select(id)
}
</script>

<template>
  <p v-if="!table.rows.length" class="quiet empty">{{ table.empty }}</p>
  <div v-else class="linked">
    <div class="choose"><ColumnsButton v-model:away="away" :columns="named" :table="table.name" /></div>
    <DataTable
      :value="flat"
      data-key="id"
      size="small"
      scrollable
      scroll-height="flex"
      removable-sort
      reorderable-columns
      state-storage="local"
      :state-key="`heathrise.table.${table.name}`"
      :row-class="rowClass"
      :row-hover="true"
      :aria-label="table.name"
      @row-click="press"
    >
      <Column
        v-for="column in columns"
        :key="column.key"
        :column-key="column.key"
        :header="column.name"
        :sort-field="`sort.${column.key}`"
        :sortable="column.name !== ''"
        :class="{ right: column.right, wrap: WRAPPED.has(column.key) }"
      >
        <template #body="{ data }">
          <span :class="{ mono: column.right, fault: data.cells[column.key]?.bad }">
            <span v-if="data.cells[column.key]?.bad" aria-hidden="true">▲ </span>
            <button
              v-if="data.cells[column.key]?.sum"
              type="button"
              class="bare sum-link"
              :aria-label="`${column.name} ${shown(data.cells[column.key])}: open the sum`"
              @click.stop="view.openSum = data.cells[column.key].sum"
            >
              {{ shown(data.cells[column.key]) }}
            </button>
            <button
              v-else-if="column.key === table.columns[0]?.key && data.selects"
              type="button"
              class="bare"
              @click.stop="selection.select(data.selects)"
            >
              {{ shown(data.cells[column.key]) }}
            </button>
            <template v-else>{{ shown(data.cells[column.key]) }}</template>
          </span>
        </template>
      </Column>
    </DataTable>
  </div>
</template>

<style scoped>
.linked {
  position: relative;
  height: 100%;
}
.choose {
  position: absolute;
  right: 8px;
  top: 0;
  z-index: 3;
  background: var(--paper-raised);
}
:deep(th:last-child),
:deep(td:last-child) {
  padding-right: 34px !important;
}
.empty {
  padding: 14px;
  margin: 0;
}
:deep(table) {
  font-size: 0.9rem;
}
:deep(th),
:deep(td) {
  padding: 3px 10px !important;
  background: var(--paper-raised);
  border-color: var(--rule) !important;
  border-width: 0 0 1px !important;
}
:deep(td) {
  white-space: nowrap;
}
:deep(td.wrap) {
  white-space: normal;
  min-width: 6rem;
}
:deep(th) {
  color: var(--ink-quiet);
  white-space: nowrap;
}
:deep(th .p-datatable-column-title) {
  font-weight: 400;
}
:deep(th svg) {
  width: 9px;
  height: 9px;
}
:deep(td.right) {
  text-align: right;
  white-space: nowrap;
}
:deep(th.right .p-datatable-column-header-content) {
  justify-content: flex-end;
}
:deep(tr.chosen td) {
  background: var(--heather-tint);
}
:deep(tbody tr) {
  cursor: pointer;
}
</style>
