<script setup lang="ts">
/** Something is otherwise than drawn: which field, and what it really is. At the desk it becomes an edit, by one press. */
import { computed, ref } from 'vue'
import type { FoundOtherwise, Thing } from '@/api/schema'

const props = defineProps<{ thing: Thing | undefined }>()
const emit = defineEmits<{ keep: [found: FoundOtherwise, text: string] }>()
const path = ref('')
const value = ref('')
const field = computed(() => props.thing?.fields.find((one) => one.path === path.value))
function keep(): void {
  if (!field.value || !value.value.trim()) return
  const shown = field.value.value.slice(0, 80)
  emit('keep', { measured: 'otherwise', field: path.value, value: value.value.trim(), shown }, '')
  path.value = value.value = ''
}
</script>

<template>
  <details v-if="thing?.fields.length">
    <summary class="big">It is otherwise than drawn</summary>
    <form @submit.prevent="keep">
      <label
        >What of {{ thing.label }}
        <select v-model="path" class="entry" @change="value = ''">
          <option value="">choose…</option>
          <option v-for="one in thing.fields" :key="one.path" :value="one.path">
            {{ one.name }}{{ one.value ? `: ${one.value} ${one.unit}` : '' }}
          </option>
        </select></label
      >
      <label v-if="field"
        >It really is{{ field.unit ? `, ${field.unit}` : '' }}
        <select v-if="field.choices.length" v-model="value" class="entry">
          <option v-for="one in field.choices" :key="one" :value="one">{{ one }}</option>
        </select>
        <input v-else v-model="value" class="entry" maxlength="200" autocomplete="off" />
      </label>
      <button type="submit" class="big" :disabled="!value.trim()">Send it to the desk</button>
    </form>
  </details>
</template>

<style scoped>
form,
label {
  display: grid;
  gap: 8px;
  padding-top: 8px;
}
summary {
  list-style: none;
}
summary::-webkit-details-marker {
  display: none;
}
</style>
