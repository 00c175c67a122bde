<script setup lang="ts">
import { watchEffect } from 'vue'
import { usePreferences } from '@/units/preferences'

const preferences = usePreferences()
watchEffect(() => document.documentElement.classList.toggle('night', preferences.night))
</script>

<template>
  <RouterView />
</template>
