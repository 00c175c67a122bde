<script setup lang="ts">
/** How the controller is reached. Its secret is sent once, kept sealed, and never shown again. */
import { ref, watch } from 'vue'
import { useController } from '@/network/useController'

const emit = defineEmits<{ done: [] }>()
const controller = useController()
const address = ref('')
const account = ref('')
const secret = ref('')
watch(
  () => controller.connection,
  (known) => {
    address.value = known?.address ?? ''
    account.value = known?.account ?? ''
  },
  { immediate: true },
)
async function connect(): Promise<void> {
  const kept = await controller.connect({
    address: address.value,
    account: account.value,
    secret: secret.value || null,
  })
  // What was typed stays until it is kept.
  if (!kept) return
  secret.value = ''
  emit('done')
}
async function setUp(): Promise<void> {
  await controller.setUp()
  emit('done')
}
async function forget(): Promise<void> {
  await controller.forget()
  emit('done')
}
</script>

<template>
  <div class="connect">
    <form @submit.prevent="connect">
      <h3>Connect to a controller</h3>
      <label
        >Address <input v-model.trim="address" class="field mono" required maxlength="300" spellcheck="false"
      /></label>
      <label>Account <input v-model.trim="account" class="field" required maxlength="120" autocomplete="off" /></label>
      <label
        >Secret
        <input
          v-model="secret"
          class="field"
          type="password"
          autocomplete="new-password"
          maxlength="200"
          :required="!controller.connection?.connected"
          :placeholder="controller.connection?.connected ? 'as it is' : ''"
      /></label>
      <p>
        <button type="submit" class="ink-button primary" :disabled="controller.busy">Connect</button>
        <button v-if="controller.connection?.connected" type="button" class="ink-button" @click="emit('done')">
          Leave it as it is
        </button>
        <button v-if="controller.connection?.connected" type="button" class="ink-button" @click="forget">
          Forget it
        </button>
      </p>
    </form>
    <div v-if="controller.connection?.stand_in">
      <h3>Or try the plan first</h3>
      <p>
        A simulated controller with the devices of this plan, fresh out of their boxes: take them over, send the
        settings, see phones walk. Its time runs sixty times as fast. What was set up before is begun anew.
      </p>
      <button type="button" class="ink-button primary" :disabled="controller.busy" @click="setUp">
        Set up a simulated one
      </button>
    </div>
    <p class="quiet note">
      What is sent to a real network is felt by everybody on it. Do it in the window of the run book, with a way back,
      and with the client's leave. Settings can be had as files instead, above: JSON, YAML, a sheet for each device.
    </p>
  </div>
</template>

<style scoped>
.connect {
  display: grid;
  grid-template-columns: minmax(300px, 400px) minmax(240px, 340px);
  gap: 4px 34px;
  padding: 4px 12px 12px;
}
h3 {
  margin: 4px 0;
  font-size: 0.95rem;
}
form {
  display: grid;
  gap: 5px;
}
label {
  display: grid;
  grid-template-columns: 74px 1fr;
  align-items: center;
}
p {
  margin: 4px 0;
  font-size: 0.92rem;
  line-height: 1.35;
}
form p {
  display: flex;
  gap: 8px;
}
.note {
  grid-column: 1 / -1;
  max-width: 760px;
  font-size: 0.86rem;
}
</style>
