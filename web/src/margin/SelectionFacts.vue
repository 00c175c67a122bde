<script setup lang="ts">
/** Computed facts of the selection; every figure opens to its sum. */
import type { Element } from '@/job/types'
import { useJob } from '@/job/useJob'
import { useSelection } from '@/job/useSelection'
import { useView } from '@/job/useView'
import { useFacts } from '@/margin/useFacts'

const props = defineProps<{ element: Element }>()
const job = useJob()
const view = useView()
const selection = useSelection()
const facts = useFacts(() => props.element)
</script>

<template>
  <dl v-if="facts.length" class="facts">
    <template v-for="fact in facts" :key="fact.label">
      <dt class="quiet">{{ fact.label }}</dt>
      <dd class="mono" :class="{ fault: fact.bad }">
        <span v-if="fact.bad" aria-hidden="true">▲ </span>
        <button
          v-if="fact.sum"
          type="button"
          class="bare sum-link"
          title="Open the sum"
          @click="view.openSum = fact.sum"
        >
          {{ fact.text }}
        </button>
        <button
          v-else-if="fact.opens"
          type="button"
          class="bare sum-link"
          title="Open the loss account there"
          @click="fact.opens()"
        >
          {{ fact.text }}
        </button>
        <span v-else>{{ fact.text }}</span>
        <button
          v-if="fact.goes && job.elements.has(fact.goes)"
          type="button"
          class="bare go"
          :aria-label="`Go to ${fact.label}`"
          title="Go there"
          @click="selection.select(fact.goes)"
        >
          →
        </button>
      </dd>
    </template>
  </dl>
</template>

<style scoped>
.facts {
  display: grid;
  grid-template-columns: 5.6rem 1fr;
  gap: 0 8px;
  grid-auto-rows: minmax(24px, auto);
  align-items: center;
  margin: 0;
  font-size: 0.9rem;
}
dd {
  margin: 0;
  overflow-wrap: anywhere;
}
.go {
  margin-left: 6px;
  color: var(--heather);
}
</style>
