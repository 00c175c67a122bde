<script setup lang="ts">
/** Plan against live: every item that differs, field by field. */
import { computed } from 'vue'
import { useController } from '@/network/useController'

const controller = useController()
const compared = computed(() => controller.live?.compared)
const SECTIONS = {
  device: 'Devices',
  network: 'Networks',
  name: 'Names',
  house: 'The whole',
  radio: 'Radios',
  port: 'Ports',
  address: 'Fixed addresses',
} as const
const STATES = { missing: 'not there', extra: 'not planned', differs: '' } as const
const groups = computed(() =>
  (Object.keys(SECTIONS) as (keyof typeof SECTIONS)[])
    .map((section) => ({ section, items: compared.value?.differences.filter((one) => one.section === section) ?? [] }))
    .filter((group) => group.items.length),
)
</script>

<template>
  <div v-if="compared" class="differences">
    <p v-if="!groups.length" class="holds">✓ {{ compared.looked_at }} things looked at; nothing differs.</p>
    <details v-for="group in groups" :key="group.section" :open="groups.length < 3 || group.items.length < 6">
      <summary>
        {{ SECTIONS[group.section] }} <span class="quiet">{{ group.items.length }} differ</span>
      </summary>
      <table class="plain-table">
        <thead>
          <tr>
            <th>What</th>
            <th>Field</th>
            <th>Planned</th>
            <th>Found</th>
          </tr>
        </thead>
        <tbody v-for="one in group.items" :key="one.key">
          <tr v-if="one.state !== 'differs'">
            <th scope="row">{{ one.device && one.device !== one.item ? `${one.device}, ` : '' }}{{ one.item }}</th>
            <td colspan="3" class="advice">◇ {{ STATES[one.state] }}</td>
          </tr>
          <tr v-for="(field, n) in one.fields" :key="field.field">
            <th v-if="!n" scope="row" :rowspan="one.fields.length">
              {{ one.device && one.device !== one.item ? `${one.device}, ` : '' }}{{ one.item }}
            </th>
            <td>{{ field.label }}</td>
            <td class="value">{{ field.planned || '–' }}</td>
            <td class="value">{{ field.found || '–' }}</td>
          </tr>
        </tbody>
      </table>
    </details>
  </div>
</template>

<style scoped>
.differences {
  padding: 0 12px 12px;
}
summary {
  cursor: pointer;
  min-height: 26px;
  font-weight: 700;
}
summary .quiet {
  font-weight: 400;
}
.plain-table .value {
  white-space: normal;
  overflow-wrap: anywhere;
  max-width: 320px;
  font-size: 0.88rem;
}
</style>
