<script setup lang="ts">
/** Site, hours, climate and service; what stays. */
import { vDraft } from '@/ink/draft'
import { computed } from 'vue'
import { useBrief, type Brief } from '@/brief/useBrief'
import { put } from '@/job/types'
import { useJob } from '@/job/useJob'
import FieldRow from '@/margin/FieldRow.vue'
import { valueAt, withValue } from '@/margin/fields'
import { useAssessment } from '@/job/useAssessment'
import { useLibrary } from '@/job/useLibrary'

const job = useJob()
const library = useLibrary()
const assessment = useAssessment()
const { brief, change } = useBrief()
const DAYS = ['mon', 'tue', 'wed', 'thu', 'fri', 'sat', 'sun'] as const
const site = computed(() => job.of('site')[0])
const parts = computed(() => [...job.of('site'), ...job.of('brief')])
function set(element: (typeof parts.value)[number], path: string, value: unknown): void {
  job.edit(`Change ${element.label.toLowerCase()}`, [put(withValue(element, path, value))])
}
/** What was typed, one subnet after another; whether each is one the server says. */
function subnets(event: Event): string[] {
  return (event.target as HTMLInputElement).value.split(/[\s,;]+/).filter(Boolean)
}
function toggle(day: (typeof DAYS)[number]): void {
  const now = site.value
  if (!now) return
  const open_days = DAYS.filter((d) => (d === day ? !now.open_days.includes(d) : now.open_days.includes(d)))
  job.edit('Change opening days', [put({ ...now, open_days })])
}
/** What the kit list has, and what a row names that it has no more. */
const lines = computed(() => {
  const found = new Map((assessment.found?.kit ?? []).map((line) => [line.item, line.label]))
  for (const { item } of brief.value?.kept ?? []) if (item && !found.has(item)) found.set(item, item)
  return [...found].filter(([item]) => !['kept', 'extra', 'delivery'].includes(item))
})
type Kept = Brief['kept'][number]
function setKept(index: number, changes: Partial<Kept>): void {
  change('Change what stays', {
    kept: (brief.value?.kept ?? []).map((k, i) => (i === index ? { ...k, ...changes } : k)),
  })
}
</script>

<template>
  <div class="facts">
    <section v-for="part in parts" :key="part.id" :aria-label="part.label">
      <h3>{{ part.kind === 'brief' ? 'Service, people, budget' : part.label }}</h3>
      <FieldRow
        v-for="field in library.about(part.kind).fields"
        :key="field.path"
        :field="field"
        :value="valueAt(part, field.path)"
        @change="set(part, field.path, $event)"
      />
      <label v-if="part.kind === 'brief'" class="beyond"
        ><span class="quiet">Subnets beyond tunnels</span
        ><input
          v-draft="(part.internet.beyond ?? []).join(', ')"
          class="field"
          placeholder="10.8.0.0/24, 192.168.40.0/24"
          @change="set(part, 'internet.beyond', subnets($event))"
      /></label>
      <div v-if="part.kind === 'site'" class="days" role="group" aria-label="Open on">
        <span class="quiet">Open on</span>
        <label v-for="day in DAYS" :key="day"
          ><input type="checkbox" :checked="site?.open_days.includes(day)" @change="toggle(day)" />{{ day }}</label
        >
      </div>
    </section>
    <section aria-label="What stays">
      <h3>What stays</h3>
      <p class="quiet">Kit and cabling the client has. What serves its need is not bought again.</p>
      <div v-for="(kept, i) in brief?.kept ?? []" :key="i" class="kept">
        <input
          v-draft="kept.what"
          class="field"
          :aria-label="`What stays, row ${i + 1}`"
          maxlength="80"
          @change="setKept(i, { what: ($event.target as HTMLInputElement).value.trim() || kept.what })"
        />
        <input
          v-draft="kept.count"
          class="field n"
          :aria-label="`How many, row ${i + 1}`"
          inputmode="numeric"
          @change="
            setKept(i, {
              count: Math.max(1, Math.round(Number(($event.target as HTMLInputElement).value)) || kept.count),
            })
          "
        />
        <select
          class="field"
          :value="kept.item ?? ''"
          :aria-label="`Taken off which line of the kit, row ${i + 1}`"
          @change="setKept(i, { item: ($event.target as HTMLSelectElement).value || null })"
        >
          <option value="">no line of the kit</option>
          <option v-for="[item, label] in lines" :key="item" :value="item">{{ label }}</option>
        </select>
        <label
          ><input type="checkbox" :checked="kept.serves" @change="setKept(i, { serves: !kept.serves })" /> serves its
          need</label
        >
        <button
          type="button"
          class="bare quiet"
          :aria-label="`Remove row ${i + 1}`"
          @click="change('Change what stays', { kept: (brief?.kept ?? []).filter((_, j) => j !== i) })"
        >
          ✕
        </button>
      </div>
      <button
        type="button"
        class="ink-button"
        @click="
          change('Add what stays', {
            kept: [...(brief?.kept ?? []), { what: 'Cat 5e outlets', count: 1, item: null, serves: true, note: '' }],
          })
        "
      >
        Add something that stays
      </button>
    </section>
  </div>
</template>

<style scoped>
.facts {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(250px, 1fr));
  gap: 16px 30px;
}
section {
  display: grid;
  gap: 4px;
  align-content: start;
}
h3 {
  border-bottom: 1px solid var(--rule);
  margin-bottom: 4px;
  padding-bottom: 2px;
}
p {
  margin: 0 0 4px;
  font-size: 0.9rem;
}
.days {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 5px;
  align-items: center;
  font-size: 0.9rem;
}
.kept {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 3rem auto auto;
  gap: 6px;
  align-items: center;
  font-size: 0.9rem;
}
.ink-button {
  justify-self: start;
}
.beyond {
  display: grid;
  grid-template-columns: 110px 1fr;
  align-items: center;
  line-height: 1.2;
  font-size: 0.9rem;
}
.kept select {
  grid-column: 1 / -1;
  grid-row: 2;
}
</style>
