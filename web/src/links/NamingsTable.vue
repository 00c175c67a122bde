<script setup lang="ts">
/** One name or many across points, over the walks drawn: what each way costs. */
import type { Naming } from '@/api/schema'
import SumNumber from '@/ledger/SumNumber.vue'

defineProps<{ ways: readonly Naming[] }>()
</script>

<template>
  <table class="plain-table">
    <thead>
      <tr>
        <th>Names</th>
        <th class="number">Moves</th>
        <th class="number">Without a link</th>
        <th class="number">Sessions broken</th>
        <th class="number">Under the need</th>
        <th>What it means</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="way in ways" :key="way.code">
        <th scope="row">{{ way.label }}</th>
        <td class="mono">{{ way.moves }}</td>
        <td class="mono"><SumNumber :sum="way.silent" plain /></td>
        <td class="mono">{{ way.breaks }}</td>
        <td class="mono">{{ (100 * way.under_need_share).toFixed(0) }} %</td>
        <td class="words">{{ way.says }}</td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
.plain-table {
  max-width: 1080px;
}
.words {
  width: 38%;
}
</style>
