<script setup lang="ts">
/** Passphrases of the names: made or typed, kept sealed, opened only when asked for; and the card of a name. */
import { reactive, ref } from 'vue'
import { api, take } from '@/api/client'
import type { PassphraseShown } from '@/api/schema'
import { useGuarded } from '@/api/useGuarded'
import { useAsked } from '@/job/useAsked'
import { useJob } from '@/job/useJob'

const job = useJob()
const turn = ref(0)
const { found, said: unread } = useAsked(
  () => take(api.GET('/api/jobs/{job_id}/network/passphrases', { params: { path: { job_id: job.id } } })),
  [turn],
)
const { said, busy, guarded } = useGuarded()
const typed = reactive<Record<string, string>>({})
/** Those that are open now; they are gone with this tab. */
const clear = reactive<Record<string, string>>({})
const params = (ssid_id: string) => ({ path: { job_id: job.id, ssid_id } })
async function keep(one: PassphraseShown, passphrase: string | null): Promise<void> {
  const call = { params: params(one.ssid_id), body: { passphrase } }
  const kept = await guarded(async () => {
    await job.mustBeSaved()
    return take(api.PUT('/api/jobs/{job_id}/network/passphrases/{ssid_id}', call))
  })
  if (!kept) return
  typed[one.ssid_id] = ''
  clear[one.ssid_id] = ''
  turn.value += 1
}
async function open(one: PassphraseShown): Promise<void> {
  if (clear[one.ssid_id]) {
    clear[one.ssid_id] = ''
    return
  }
  const call = { params: params(one.ssid_id) }
  const opened = await guarded(() => take(api.POST('/api/jobs/{job_id}/network/passphrases/{ssid_id}/open', call)))
  if (opened) clear[one.ssid_id] = opened.passphrase
}
async function card(one: PassphraseShown): Promise<void> {
  const call = { params: params(one.ssid_id), parseAs: 'blob' as const }
  const pdf = await guarded(() => take(api.POST('/api/jobs/{job_id}/network/passphrases/{ssid_id}/card', call)))
  if (!pdf) return
  const link = document.createElement('a')
  link.href = URL.createObjectURL(pdf as unknown as Blob)
  link.download = `${one.label} card.pdf`
  link.click()
  URL.revokeObjectURL(link.href)
}
const ready = (one: PassphraseShown): boolean => (typed[one.ssid_id] ?? '').length >= 8
</script>

<template>
  <section class="panel" aria-label="Passphrases">
    <p v-if="said || unread" class="fault lead" role="alert">▲ {{ said || unread }}</p>
    <p v-if="found && !found.passphrases.length" class="quiet lead">
      Put a name on the air first: its passphrase is made and kept here.
    </p>
    <template v-else-if="found">
      <p class="quiet lead">
        Kept sealed, with a key that is not in the database; in no export, no log and no edit. One that is missing is
        made when the name is sent.
      </p>
      <table class="plain-table">
        <thead>
          <tr>
            <th>Name</th>
            <th>Passphrase</th>
            <th>Strength</th>
            <th>A new one</th>
            <td></td>
          </tr>
        </thead>
        <tbody>
          <tr v-for="one in found.passphrases" :key="one.ssid_id">
            <th scope="row">{{ one.label }}</th>
            <td class="clear">
              <span v-if="!one.needed" class="quiet">none: {{ one.security }}</span>
              <span v-else-if="clear[one.ssid_id]" class="mono">{{ clear[one.ssid_id] }}</span>
              <span v-else-if="one.kept" class="quiet">kept, {{ one.made ? 'made here' : 'typed' }}</span>
              <span v-else class="advice">◇ none yet</span>
            </td>
            <td class="words">
              <span v-if="one.problem" class="fault">▲ {{ one.problem }}</span>
              <span v-else-if="one.kept" class="holds mono strength">✓ {{ one.bits.toFixed(0) }} bit</span>
              <template v-else>–</template>
            </td>
            <td>
              <form v-if="one.needed" @submit.prevent="keep(one, typed[one.ssid_id] ?? null)">
                <button type="button" class="ink-button" :disabled="busy" @click="keep(one, null)">Make one</button>
                <input
                  v-model="typed[one.ssid_id]"
                  class="field"
                  type="password"
                  autocomplete="new-password"
                  minlength="8"
                  maxlength="63"
                  size="11"
                  placeholder="or type one"
                  :aria-label="`A passphrase for ${one.label}`"
                />
                <button v-if="ready(one)" type="submit" class="ink-button" :disabled="busy">Keep it</button>
              </form>
            </td>
            <td class="last">
              <button
                v-if="one.kept && one.needed"
                type="button"
                class="ink-button"
                :disabled="busy"
                @click="open(one)"
              >
                {{ clear[one.ssid_id] ? 'Close' : 'Show' }}
              </button>
              <button
                v-if="one.kept || !one.needed"
                type="button"
                class="ink-button"
                :disabled="busy"
                @click="card(one)"
              >
                Card
              </button>
            </td>
          </tr>
        </tbody>
      </table>
    </template>
  </section>
</template>

<style scoped>
.panel {
  overflow: auto;
}
form,
.last {
  display: flex;
  gap: 6px;
  align-items: center;
}
.clear {
  min-width: 150px;
}
.words {
  max-width: 240px;
}
.strength {
  white-space: nowrap;
}
</style>
