<script setup lang="ts">
/** What a stage can do with one press beside drawing. */
import { computed, defineAsyncComponent, type Component } from 'vue'
import { useView } from '@/job/useView'

/** Loaded with the stage that has them. */
const ACTIONS: Readonly<Record<string, Component>> = {
  plan: defineAsyncComponent(() => import('@/stages/actions/PlanActions.vue')),
  air: defineAsyncComponent(() => import('@/stages/actions/AirActions.vue')),
  runs: defineAsyncComponent(() => import('@/stages/actions/RunsActions.vue')),
  ports: defineAsyncComponent(() => import('@/stages/actions/PortsActions.vue')),
  network: defineAsyncComponent(() => import('@/stages/actions/NetworkActions.vue')),
  order: defineAsyncComponent(() => import('@/stages/actions/OrderActions.vue')),
}
const view = useView()
const actions = computed(() => ACTIONS[view.stage])
</script>

<template>
  <div class="actions"><component :is="actions" v-if="actions" /></div>
</template>

<style scoped>
.actions {
  display: flex;
  gap: 6px;
  flex: none;
  font-size: 0.9rem;
}
</style>
