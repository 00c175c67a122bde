<script setup lang="ts">
import { watchEffect } from 'vue'
import { live } from '@/job/keeping'
import { useOutbox } from '@/job/useOutbox'
import { usePreferences } from '@/units/preferences'

const preferences = usePreferences()
watchEffect(() => document.documentElement.classList.toggle('night', preferences.night))
live()
useOutbox()
</script>

<template>
  <RouterView />
</template>
