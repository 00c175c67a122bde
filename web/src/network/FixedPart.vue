<script setup lang="ts">
/** Fixed addresses: what always has the same one, and keeping the next free one for another thing. */
import { computed, ref } from 'vue'
import type { AddressMap } from '@/api/schema'
import { useMake } from '@/job/make'
import { useJob } from '@/job/useJob'
import { useSelection } from '@/job/useSelection'

const props = defineProps<{ map: AddressMap }>()
const job = useJob()
const selection = useSelection()
const make = useMake()
const what = ref('')
const network = ref('')
const free = computed(() => props.map.free.find((one) => one.network_id === network.value)?.address ?? null)
function keep(): void {
  if (!free.value || !what.value) return
  const element = make('fixed-address', { label: what.value, network_id: network.value, address: free.value })
  job.edit(`Keep ${free.value} for ${what.value}`, [{ op: 'put', element }])
  what.value = ''
}
</script>

<template>
  <form class="fixed" @submit.prevent="keep">
    <h3>Fixed addresses</h3>
    <p v-for="one in map.fixed" :key="one.element_id">
      <button type="button" class="bare" @click="selection.select(one.element_id)">{{ one.label }}</button>
      <span class="mono">{{ one.address }}</span>
      <span class="quiet">{{ one.network }}{{ one.on_device ? ', set on the device' : '' }}</span>
    </p>
    <p>
      <label>Keep one for <input v-model.trim="what" class="field" maxlength="80" placeholder="a printer" /></label>
      <label
        >in
        <select v-model="network" class="field" aria-label="In which network">
          <option value="">choose…</option>
          <option v-for="one in map.free" :key="one.network_id" :value="one.network_id">{{ one.label }}</option>
        </select></label
      >
      <span v-if="network" class="mono">{{ free ?? 'none is left' }}</span>
      <button type="submit" class="ink-button" :disabled="!free || !what">Keep it</button>
    </p>
  </form>
</template>

<style scoped>
.fixed {
  margin: 4px 12px 10px;
}
h3 {
  margin: 6px 0 2px;
  font-size: 0.95rem;
}
p {
  margin: 3px 0;
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
}
</style>
