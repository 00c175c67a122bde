<script setup lang="ts">
/** A choice of file kinds; choosing one fetches the file. */
const props = defineProps<{
  label: string
  first: string
  files: Readonly<Record<string, string>>
  href: (ending: string) => string
}>()
function fetchFile(event: Event): void {
  const select = event.target as HTMLSelectElement
  const ending = select.value
  select.value = ''
  if (ending) location.href = props.href(ending)
}
</script>

<template>
  <select class="field save" :aria-label="label" @change="fetchFile">
    <option value="">{{ first }}</option>
    <option v-for="(name, ending) in files" :key="ending" :value="ending">{{ name }}</option>
  </select>
</template>
