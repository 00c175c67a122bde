<script setup lang="ts">
/** One job of the list: its plan, its name, what is open, and what can be done with it. */
import { nextTick, ref, useTemplateRef } from 'vue'
import type { JobListed } from '@/api/schema'
import { exportsOf } from '@/jobs/files'
import { when } from '@/jobs/when'

const props = defineProps<{ job: JobListed; waiting: number }>()
const emit = defineEmits<{ rename: [name: string]; duplicate: []; archive: []; bin: [] }>()
const opened = ref(false)
const naming = ref(false)
const name = ref('')
const field = useTemplateRef<HTMLInputElement>('field')

async function begin(): Promise<void> {
  name.value = props.job.name
  naming.value = true
  await nextTick()
  field.value?.select()
}
/** Taken once: leaving the field by Enter or Escape takes it away, which is a blur of its own. */
function named(): void {
  if (!naming.value) return
  const next = name.value.trim()
  naming.value = false
  if (next && next !== props.job.name) emit('rename', next)
}
</script>

<template>
  <tr>
    <td class="thumb">
      <RouterLink :to="`/jobs/${job.id}`" tabindex="-1" aria-hidden="true"
        ><img :src="`/api/jobs/${job.id}/plan.svg?${job.revision}`" alt="" loading="lazy" width="64" height="44"
      /></RouterLink>
    </td>
    <td>
      <form v-if="naming" @submit.prevent="named">
        <input
          ref="field"
          v-model="name"
          class="field"
          maxlength="80"
          :aria-label="`New name of ${job.name}`"
          @keydown.esc="naming = false"
          @blur="named"
        />
      </form>
      <template v-else>
        <RouterLink class="name" :to="`/jobs/${job.id}`">{{ job.name }}</RouterLink>
        <span v-if="waiting" class="waits">{{ waiting }} waiting</span>
      </template>
    </td>
    <td class="open">
      <span v-if="job.faults === null" class="quiet" title="Worked out when it is opened">not yet</span>
      <template v-else>
        <span v-if="job.faults" class="fault" :title="`${job.faults} faults open`"
          >▲ {{ job.faults }}<span class="visually-hidden"> faults</span></span
        >
        <span v-if="job.warnings" class="warning" :title="`${job.warnings} warnings open`"
          >◆ {{ job.warnings }}<span class="visually-hidden"> warnings</span></span
        >
        <span v-if="!job.faults && !job.warnings" class="quiet">none</span>
      </template>
    </td>
    <td class="mono">{{ job.elements }}</td>
    <td class="time">{{ when(job.changed) }}</td>
    <td class="end">
      <button
        type="button"
        class="ink-button"
        :aria-expanded="opened"
        :aria-label="`More of ${job.name}`"
        @click="opened = !opened"
      >
        More
      </button>
    </td>
  </tr>
  <tr v-if="opened" class="more">
    <td></td>
    <td colspan="5">
      <span class="acts">
        <button type="button" class="ink-button" :aria-label="`Rename ${job.name}`" @click="begin">Rename</button>
        <button type="button" class="ink-button" :aria-label="`Duplicate ${job.name}`" @click="emit('duplicate')">
          Duplicate
        </button>
        <button
          type="button"
          class="ink-button"
          :aria-label="job.archived ? `Take ${job.name} out of the archive` : `Archive ${job.name}`"
          @click="emit('archive')"
        >
          {{ job.archived ? 'Out of the archive' : 'Archive' }}
        </button>
        <button
          type="button"
          class="ink-button"
          :aria-label="`Put ${job.name} in the bin`"
          title="It stays in the bin for a while and can be put back"
          @click="emit('bin')"
        >
          Bin
        </button>
      </span>
      <span class="files">
        <a
          v-for="file in exportsOf(job.id)"
          :key="file.href"
          :href="file.href"
          :aria-label="`${file.label} of ${job.name}`"
          >{{ file.label }}</a
        >
      </span>
    </td>
  </tr>
</template>

<style scoped>
td {
  padding: 5px 12px 5px 0;
  border-bottom: 1px solid var(--rule);
}
.thumb {
  width: 76px;
}
.thumb img {
  display: block;
  object-fit: contain;
}
.name {
  font-size: 1.05rem;
  font-weight: 700;
}
.open span + span {
  margin-left: 8px;
}
.open,
.time {
  white-space: nowrap;
}
.waits {
  margin-left: 8px;
  font-size: 0.88rem;
  color: var(--rust);
}
.end {
  text-align: right;
  padding-right: 0;
}
.acts,
.files {
  display: inline-flex;
  gap: 8px;
  margin-right: 20px;
}
.files a {
  font-size: 0.88rem;
  white-space: nowrap;
}
</style>
