<script setup lang="ts">
/** The tabs of a drawer or a page in the sheet's look; the one that is open is underlined. */
import Tab from 'primevue/tab'
import TabList from 'primevue/tablist'
import { tabValue } from '@/ink/tabs'

defineProps<{ tabs: readonly { name: string; count?: number }[]; label: string }>()
const emit = defineEmits<{ press: [name: string] }>()
</script>

<template>
  <TabList class="ink-tabs" :pt="{ tabList: { 'aria-label': label } }">
    <Tab
      v-for="tab in tabs"
      :key="tab.name"
      :value="tabValue(tab.name)"
      class="ink-tab"
      @click="emit('press', tab.name)"
    >
      {{ tab.name }} <span v-if="tab.count !== undefined" class="mono quiet">{{ tab.count }}</span>
    </Tab>
  </TabList>
</template>

<style scoped>
.ink-tabs :deep(.p-tablist-tab-list) {
  background: none;
  border: 0;
  flex-wrap: wrap;
  gap: 2px;
}
.ink-tabs :deep(.p-tablist-active-bar) {
  display: none;
}
.ink-tabs :deep(.p-tablist-content) {
  overflow: visible;
}
.ink-tab {
  font: inherit;
  font-size: 0.92rem;
  font-weight: 400;
  color: var(--ink);
  background: none;
  border: 0;
  border-bottom: 2px solid transparent;
  margin: 0;
  padding: 3px 6px;
  gap: 0;
  white-space: nowrap;
}
.ink-tab:not(.p-tab-active):hover {
  color: var(--heather);
  background: none;
}
.ink-tab.p-tab-active {
  color: var(--ink);
  border-bottom-color: var(--heather);
  font-weight: 700;
}
</style>
