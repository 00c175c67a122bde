<script setup lang="ts">
/** The controller: how it is reached, what differs from the plan, what would be sent in which order, how far it is. */
import { computed, onMounted, ref } from 'vue'
import ConnectPart from '@/network/ConnectPart.vue'
import DifferencesPart from '@/network/DifferencesPart.vue'
import LogPart from '@/network/LogPart.vue'
import PushPart from '@/network/PushPart.vue'
import { useController } from '@/network/useController'

const controller = useController()
onMounted(() => void controller.look())
const live = computed(() => controller.live)
const connected = computed(() => controller.connection?.connected ?? false)
const up = computed(() => live.value?.live.units.filter((unit) => unit.phase === 'up').length ?? 0)
const changing = ref(false)
const logged = ref(false)
</script>

<template>
  <section class="panel" aria-label="Controller" :aria-busy="controller.busy">
    <p v-if="controller.said" class="fault lead" role="alert">▲ {{ controller.said }}</p>
    <ConnectPart v-if="controller.connection && (!connected || changing)" @done="changing = false" />
    <template v-if="connected && !changing">
      <p class="head">
        <span v-if="live"
          ><b class="mono">{{ up }}</b> of <span class="mono">{{ live.live.units.length }}</span> units up · console
          <span class="mono">{{ live.live.console_version }}</span>
          <span v-if="live.live.console_old" class="advice"> ◇ newer is there</span> ·
          <span class="mono">{{ live.live.people }}</span> phones · way out
          <span :class="live.live.wan === 'up' ? 'holds' : 'fault'">{{
            live.live.wan === 'up' ? '✓ up' : `▲ ${live.live.wan}`
          }}</span></span
        >
        <span v-if="live?.compared.as_planned" class="holds">✓ as planned</span>
        <span class="right">
          <label><input v-model="controller.watching" type="checkbox" /> Watch it on the sheet</label>
          <button type="button" class="ink-button" :disabled="controller.busy" @click="controller.read()">
            Look again
          </button>
          <button type="button" class="ink-button" @click="changing = true">Connection…</button>
        </span>
      </p>
      <PushPart />
      <DifferencesPart v-if="live && !controller.sending" />
      <details v-if="live" class="log" @toggle="logged = ($event.target as HTMLDetailsElement).open">
        <summary>What it wrote down</summary>
        <LogPart v-if="logged" />
      </details>
    </template>
  </section>
</template>

<style scoped>
.panel {
  overflow: auto;
}
.head {
  flex-wrap: wrap;
  row-gap: 4px;
}
.log {
  padding: 0 12px 12px;
}
summary {
  cursor: pointer;
  min-height: 26px;
  font-weight: 700;
}
.right {
  display: flex;
  gap: 8px;
  align-items: center;
}
</style>
