<script setup lang="ts">
/** Findings of one rule as one entry that opens; all of them mended by one press, where one press mends each. */
import { computed, ref, watch } from 'vue'
import type { Finding } from '@/api/schema'
import { api, take } from '@/api/client'
import { useGuarded } from '@/api/useGuarded'
import Mark from '@/ink/Mark.vue'
import { useJob } from '@/job/useJob'
import { usePointer } from '@/job/usePointer'
import FindingNote from '@/margin/FindingNote.vue'

const props = defineProps<{ findings: readonly Finding[] }>()
const job = useJob()
const pointer = usePointer()
const opened = ref(false)
const { said, guarded, busy } = useGuarded()
const first = computed(() => props.findings[0])
const NAMED = 3
const names = computed(() => {
  const all = props.findings.map((finding) => finding.subject)
  const more = all.length > NAMED ? ` and ${all.length - NAMED} more` : ''
  return `${all.slice(0, NAMED).join(', ')}${more}`
})
const mendable = computed(() => props.findings.filter((finding) => finding.fixes.length).length)

async function mendAll(): Promise<void> {
  await job.during(mend)
}
/** Worked out on what the server has, so what is typed is saved first. */
async function mend(): Promise<void> {
  await guarded(async () => {
    await job.mustBeSaved()
    const params = { path: { job_id: job.id } }
    const body = { rule: first.value?.rule ?? '' }
    const found = await take(api.POST('/api/jobs/{job_id}/findings/mend', { params, body }))
    if (!found.mended) said.value = 'No remedy here cures its finding: open the entry and choose for each.'
    else if (found.brings.length)
      said.value = `All together would bring: ${found.brings.map((b) => b.title).join('; ')}.`
    else job.edit(`Mend ${found.mended}: ${first.value?.title ?? ''}`, found.operations)
  })
}
watch(
  () => pointer.pointed?.finding.key,
  (key) => {
    if (props.findings.some((finding) => finding.key === key)) opened.value = true
  },
  { immediate: true },
)
</script>

<template>
  <div v-if="first" class="group" :class="[first.severity, { opened }]" :data-rule="first.rule">
    <h3>
      <Mark :kind="first.severity" />
      <button type="button" class="bare" :aria-expanded="opened" @click="opened = !opened">
        <span class="mono">{{ findings.length }}</span> × {{ first.title }}
      </button>
    </h3>
    <p v-if="!opened" class="quiet">{{ names }}</p>
    <div class="acts">
      <button v-if="mendable > 1" type="button" class="ink-button" :disabled="busy" @click="mendAll">
        Mend all {{ mendable }}
      </button>
      <button type="button" class="bare sum-link" @click="opened = !opened">{{ opened ? 'Close' : 'Open' }}</button>
    </div>
    <p v-if="said" class="fault" role="alert">▲ {{ said }}</p>
    <FindingNote v-for="finding in opened ? findings : []" :key="finding.key" :finding="finding" />
  </div>
</template>

<style scoped>
.group {
  padding: 8px 14px;
  border-top: 1px solid var(--rule);
}
.group.opened {
  padding-bottom: 0;
}
.group :deep(.note) {
  margin-left: 0;
  margin-right: 0;
}
h3 {
  display: flex;
  gap: 6px;
  align-items: baseline;
  margin: 0;
  font-size: 0.95rem;
}
h3 button {
  text-align: left;
  font: inherit;
  font-weight: 700;
}
p {
  margin: 2px 0 4px;
  font-size: 0.9rem;
  line-height: 1.3;
}
.acts {
  display: flex;
  gap: 10px;
  align-items: center;
  margin: 4px 0;
}
</style>
