<script setup lang="ts">
/** What two hands changed at once: every clash with both values; what did not clash is kept already. */
import { computed, ref, watch } from 'vue'
import type { Clash } from '@/api/schema'
import { useJob } from '@/job/useJob'
import { useLibrary } from '@/job/useLibrary'
import { placeOf, valueOf } from '@/margin/clashes'
import type { Choice } from '@/job/queue'

type Take = Choice['take']
const job = useJob()
const library = useLibrary()
const clashes = computed<readonly Clash[]>(() => job.conflict?.problem.clashes ?? [])
const taken = ref<Record<string, Take>>({})
watch(clashes, () => {
  taken.value = {}
})
const keyOf = (clash: Clash): string => [clash.element_id, ...clash.path].join('.')
const undecided = computed(() => clashes.value.filter((clash) => !taken.value[keyOf(clash)]).length)
const aboutOf = (clash: Clash) => library.about(clash.kind as Parameters<typeof library.about>[0])

function take(all: Take): void {
  taken.value = Object.fromEntries(clashes.value.map((clash) => [keyOf(clash), all]))
}
function settle(): void {
  job.settle(
    clashes.value.map((clash) => ({
      element_id: clash.element_id,
      path: clash.path,
      take: taken.value[keyOf(clash)] ?? 'theirs',
      theirs: clash.theirs,
    })),
  )
}
</script>

<template>
  <section v-if="job.conflict" class="trouble" role="alert" aria-label="Changed by somebody else">
    <h2>▲ Changed by somebody else</h2>
    <p>
      “{{ job.conflict.edit.label }}” meets what somebody else did meanwhile.
      {{ clashes.length === 1 ? 'One value clashes' : `${clashes.length} values clash` }}; the rest of yours is merged.
      Nothing is lost: choose what stands.
    </p>
    <ol>
      <li v-for="clash in clashes" :key="keyOf(clash)">
        <fieldset>
          <legend>
            <b>{{ clash.label }}</b> <span class="quiet">{{ placeOf(clash, aboutOf(clash).fields) }}</span>
          </legend>
          <label v-for="side in ['mine', 'theirs'] as const" :key="side">
            <input v-model="taken[keyOf(clash)]" type="radio" :name="keyOf(clash)" :value="side" />
            <span class="quiet">{{ side === 'mine' ? 'yours' : 'theirs' }}</span>
            <span class="mono">{{ valueOf(clash[side], clash) }}</span>
          </label>
        </fieldset>
      </li>
    </ol>
    <div class="do">
      <button type="button" class="ink-button" @click="take('mine')">All yours</button>
      <button type="button" class="ink-button" @click="take('theirs')">All theirs</button>
      <button type="button" class="ink-button primary" :disabled="undecided > 0" @click="settle">
        {{ undecided ? `${undecided} to choose` : 'Settle' }}
      </button>
    </div>
  </section>
</template>

<style scoped>
ol {
  list-style: none;
  margin: 0;
  padding: 0;
  max-height: 46vh;
  overflow: auto;
}
fieldset {
  border: 0;
  border-top: 1px solid var(--rule);
  padding: 5px 0;
  margin: 0;
  min-width: 0;
}
legend {
  float: left;
  width: 100%;
  padding: 0 0 2px;
}
label {
  clear: both;
  display: grid;
  grid-template-columns: 14px 3.2rem minmax(0, 1fr);
  gap: 7px;
  align-items: center;
  padding: 1px 0;
}
label .mono {
  overflow-wrap: anywhere;
}
input {
  accent-color: var(--heather);
  margin: 0;
}
.do {
  margin-top: 8px;
}
</style>
