<script setup lang="ts">
/** Many things chosen: one value for all, in line, copied in rows, turned, moved, removed. */
import { computed, reactive } from 'vue'
import type { Kind } from '@/job/types'
import { useJob } from '@/job/useJob'
import { useLibrary } from '@/job/useLibrary'
import { useShape, type Action } from '@/job/useShape'
import { useSelection } from '@/job/useSelection'
import FieldRow from '@/margin/FieldRow.vue'
import { fieldsOf, valueAt, type Field } from '@/margin/fields'

const job = useJob()
const selection = useSelection()
const library = useLibrary()
const shaping = useShape()
const ids = computed(() => [...selection.many])
const elements = computed(() => ids.value.flatMap((id) => job.elements.get(id) ?? []))
const kinds = computed(() => {
  const counts = new Map<Kind, number>()
  for (const e of elements.value) counts.set(e.kind, (counts.get(e.kind) ?? 0) + 1)
  return [...counts].map(([kind, n]) => `${n} ${library.about(kind).noun}${n > 1 ? 's' : ''}`).join(', ')
})
const NOT_SHARED = new Set(['label', 'at.x_m', 'at.y_m', 'a.x_m', 'a.y_m', 'b.x_m', 'b.y_m', 'at_m'])
const fields = computed<readonly Field[]>(() => {
  const first = elements.value[0]
  if (!first || elements.value.some((e) => e.kind !== first.kind)) return []
  return fieldsOf(library.about(first.kind).fields, first).filter(
    (field) => !NOT_SHARED.has(field.path) && !field.path.includes('.'),
  )
})
const walls = computed(() => elements.value.filter((e) => e.kind === 'wall').length)
const form = reactive({ dx: '1', dy: '1', columns: '2', rows: '1', turn: '90', offset: '1' })

function shared(path: string): unknown {
  const values = new Set(elements.value.map((e) => valueAt(e, path)))
  return values.size === 1 ? [...values][0] : null
}
function number(text: string): number {
  const value = Number(text.replace(',', '.'))
  return Number.isFinite(value) ? value : 0
}
function run(label: string, action: Action): void {
  void shaping.run(`${label} ${ids.value.length} things`, action)
}
function removeAll(): void {
  run('Remove', { do: 'remove', ids: ids.value })
  selection.select(null)
}
void library.load()
</script>

<template>
  <section class="card" aria-label="Many selected">
    <header>
      <h2>{{ elements.length }} selected</h2>
      <button type="button" class="bare quiet" aria-label="Put the selection away" @click="selection.select(null)">
        ✕
      </button>
    </header>
    <p class="quiet what">{{ kinds }}</p>
    <div v-if="fields.length" class="fields">
      <FieldRow
        v-for="field in fields"
        :key="field.path"
        :field="field.type === 'choice' ? { ...field, empty: true } : field"
        :value="shared(field.path)"
        @change="
          run(`Change ${field.label.toLowerCase()} of`, {
            do: 'change',
            ids,
            field: field.path,
            value: $event as string,
          })
        "
      />
    </div>
    <fieldset>
      <legend>Move and turn</legend>
      <label>across <input v-model="form.dx" class="field" inputmode="decimal" aria-label="Step across" /></label>
      <label>down <input v-model="form.dy" class="field" inputmode="decimal" aria-label="Step down" /></label>
      <button
        type="button"
        class="ink-button"
        @click="run('Move', { do: 'move', ids, dx_m: number(form.dx), dy_m: number(form.dy), turn_deg: 0 })"
      >
        Move
      </button>
      <label
        >degrees <input v-model="form.turn" class="field" inputmode="decimal" aria-label="Turn by degrees"
      /></label>
      <button
        type="button"
        class="ink-button"
        @click="run('Turn', { do: 'move', ids, dx_m: 0, dy_m: 0, turn_deg: number(form.turn) })"
      >
        Turn
      </button>
    </fieldset>
    <fieldset>
      <legend>Rows and lines</legend>
      <label>columns <input v-model="form.columns" class="field" inputmode="numeric" aria-label="Columns" /></label>
      <label>rows <input v-model="form.rows" class="field" inputmode="numeric" aria-label="Rows" /></label>
      <button
        type="button"
        class="ink-button"
        @click="
          run('Copy in rows', {
            do: 'array',
            ids,
            columns: Math.round(number(form.columns)),
            rows: Math.round(number(form.rows)),
            dx_m: number(form.dx),
            dy_m: number(form.dy),
          })
        "
      >
        Copy
      </button>
      <button type="button" class="ink-button" @click="run('Align', { do: 'align', ids, along: 'x' })">
        Line up across
      </button>
      <button type="button" class="ink-button" @click="run('Align', { do: 'align', ids, along: 'y' })">
        Line up down
      </button>
    </fieldset>
    <fieldset v-if="walls">
      <legend>Walls</legend>
      <button
        v-if="walls === 2 && elements.length === 2"
        type="button"
        class="ink-button"
        @click="run('Join', { do: 'join', ids })"
      >
        Join
      </button>
      <label>sideways <input v-model="form.offset" class="field" inputmode="decimal" aria-label="Sideways by" /></label>
      <button
        type="button"
        class="ink-button"
        @click="run('Copy sideways', { do: 'offset', ids, by_m: number(form.offset) })"
      >
        Copy sideways
      </button>
    </fieldset>
    <button type="button" class="ink-button" @click="removeAll">Remove all</button>
  </section>
</template>

<style scoped>
.card {
  padding: 12px 14px;
  border-bottom: 1px solid var(--ink);
  display: grid;
  gap: 8px;
}
header {
  display: flex;
  justify-content: space-between;
}
.what {
  margin: -6px 0 0;
  font-size: 0.9rem;
}
.fields {
  display: grid;
  gap: 4px;
}
fieldset {
  border: 0;
  border-top: 1px solid var(--rule);
  padding: 6px 0 0;
  margin: 0;
  display: flex;
  flex-wrap: wrap;
  gap: 5px 8px;
  align-items: center;
  font-size: 0.9rem;
}
legend {
  font-size: 0.88rem;
  color: var(--ink-quiet);
  padding: 0 6px 0 0;
}
input {
  width: 3.4rem;
}
</style>
