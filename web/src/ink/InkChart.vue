<script setup lang="ts">
/** A chart in the sheet's ink: drawn anew when what it shows changes, or the light does. */
import { Chart, type ChartConfiguration } from '@/ink/charts'
import { onBeforeUnmount, useTemplateRef, watchPostEffect } from 'vue'
import { usePreferences } from '@/units/preferences'

const props = defineProps<{ config: () => ChartConfiguration | null; label: string }>()
const preferences = usePreferences()
const canvas = useTemplateRef<HTMLCanvasElement>('canvas')
let chart: Chart | undefined

watchPostEffect(() => {
  // Colours are read from the page as it is now, so the light is one of the things it hangs on.
  void preferences.night
  const config = props.config()
  chart?.destroy()
  chart = canvas.value && config ? new Chart(canvas.value, config) : undefined
})
onBeforeUnmount(() => chart?.destroy())
</script>

<template>
  <canvas ref="canvas" role="img" :aria-label="label" />
</template>
