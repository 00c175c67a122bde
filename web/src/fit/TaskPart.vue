<script setup lang="ts">
/** One task opened: what is done, what is minded and who decides it, what to know, what is written down, when and by whom. */
import type { Caution, Planned, Task, TaskDone } from '@/api/schema'
import { useJob } from '@/job/useJob'
import { useUnits } from '@/units/useUnits'

defineProps<{
  task: Task
  when: Planned
  cautions: Record<string, Caution>
  crew: string[]
  held: { on: string | null; who: string | null } | undefined
  done: boolean
  written: TaskDone | undefined
}>()
const emit = defineEmits<{ hold: [on: string | null, who: string | null]; tick: [done: boolean] }>()
const job = useJob()
const units = useUnits()
const value = (event: Event): string | null => (event.target as HTMLInputElement | HTMLSelectElement).value || null
</script>

<template>
  <div class="task">
    <p>{{ units.sentence(task.text) }}</p>
    <dl>
      <template v-for="fact in task.facts" :key="fact.label">
        <dt class="quiet">{{ fact.label }}</dt>
        <dd>{{ units.sentence(fact.value) }}</dd>
      </template>
      <dt class="quiet">Write down</dt>
      <dd>{{ task.records.join(', ') || 'nothing' }}</dd>
      <template v-if="written">
        <dt class="quiet">Written down</dt>
        <dd>
          <template v-if="written.by.length">ticked by {{ written.by.join(' and ') }}. </template>
          <template v-if="written.numbers.length"
            ><span :class="{ warning: written.apart }"
              ><span v-if="written.apart" aria-hidden="true">▲ </span
              >{{ written.numbers.map((n) => units.quantity(n, 'm', 1)).join(' and ') }}</span
            >.
          </template>
          {{ written.notes.join(' · ') }}
          <a
            v-for="(photo, n) in written.photos"
            :key="photo"
            :href="`/api/jobs/${job.id}/photos/${photo}`"
            target="_blank"
            >photograph {{ n + 1 }}
          </a>
        </dd>
      </template>
      <dt class="quiet">Waits for</dt>
      <dd>
        {{ task.after.length ? `${task.after.length} tasks` : 'nothing' }}; may wait
        {{ units.quantity(when.slack_h, 'h', 1) }}
      </dd>
    </dl>
    <ul class="cautions">
      <li v-for="code in task.cautions" :key="code">
        <strong>{{ cautions[code]?.title }}.</strong> {{ cautions[code]?.text }}
        <span class="quiet">Decides: {{ cautions[code]?.decides }}.</span>
      </li>
    </ul>
    <p class="hold">
      <button
        v-if="!task.records.includes('test')"
        type="button"
        class="ink-button"
        :class="{ primary: !done }"
        @click="emit('tick', !done)"
      >
        {{ done ? 'Open it again' : 'Done' }}
      </button>
      <label
        >On
        <input
          type="date"
          class="field"
          :value="held?.on ?? ''"
          :aria-label="`Hold ${task.label} on`"
          @change="emit('hold', value($event), held?.who ?? null)"
      /></label>
      <label
        >by
        <select
          class="field"
          :value="held?.who ?? ''"
          :aria-label="`Give ${task.label} to`"
          @change="emit('hold', held?.on ?? null, value($event))"
        >
          <option value="">whoever is free</option>
          <option v-for="name in crew" :key="name" :value="name">{{ name }}</option>
        </select></label
      >
    </p>
  </div>
</template>

<style scoped>
.task {
  padding: 2px 0 8px 7.2rem;
  font-size: 0.92rem;
}
p {
  margin: 2px 0 4px;
}
dl {
  display: grid;
  grid-template-columns: max-content 1fr;
  gap: 1px 12px;
  margin: 0 0 4px;
}
dd {
  margin: 0;
}
.cautions {
  list-style: none;
  margin: 0;
  padding: 0;
  border-left: 3px solid var(--gorse);
}
.cautions li {
  padding: 1px 8px;
}
.hold {
  display: flex;
  gap: 12px;
}
</style>
