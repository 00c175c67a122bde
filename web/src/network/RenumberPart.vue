<script setup lang="ts">
/** Moving one network to another subnet: what is done before, during and after, and what moves along. */
import { computed, ref } from 'vue'
import { api, take } from '@/api/client'
import { useAsked } from '@/job/useAsked'
import { useJob } from '@/job/useJob'
import SumNumber from '@/ledger/SumNumber.vue'
import { useSuggestion } from '@/stages/actions/useSuggestion'

const props = defineProps<{ network: string }>()
const job = useJob()
const to = ref('')
const query = computed(() => ({ network: props.network, to: to.value }))
const path = { job_id: job.id }
const { found, said } = useAsked(
  () => take(api.GET('/api/jobs/{job_id}/network/renumbering', { params: { path, query: query.value } })),
  [() => props.network, to],
)
const { busy, suggest } = useSuggestion()
const parts = computed(() =>
  found.value
    ? ([
        ['Before', found.value.before],
        ['During', found.value.during],
        ['After', found.value.after],
      ] as const)
    : [],
)
const renumber = (): Promise<void> =>
  suggest(
    () => take(api.POST('/api/jobs/{job_id}/network/renumbering', { params: { path }, body: query.value })),
    `Renumber ${found.value?.label ?? ''}`,
    'It has that subnet already.',
  )
</script>

<template>
  <div class="part">
    <p>
      <label
        >to
        <input
          v-model.lazy.trim="to"
          class="field mono"
          :placeholder="found?.then ?? ''"
          size="18"
          spellcheck="false"
          aria-label="New subnet"
      /></label>
      <button
        type="button"
        class="ink-button"
        :disabled="busy || !found || !!found.problem || !!said"
        @click="renumber"
      >
        Renumber in the plan
      </button>
      <template v-if="found && !said">
        <span class="mono">{{ found.now }} → {{ found.then }}</span
        ><span v-if="found.vlan_then" class="quiet"> VLAN {{ found.vlan_then }}</span>
        <span class="quiet"> · leases shortened ahead by </span><SumNumber :sum="found.wait" :digits="0" plain />
      </template>
    </p>
    <p v-if="said" class="fault" role="alert">▲ {{ said }}</p>
    <p v-else-if="found?.problem" class="fault">▲ {{ found.problem }}</p>
    <div v-if="found && !said" class="steps">
      <section v-for="[name, steps] in parts" :key="name">
        <h4>{{ name }}</h4>
        <ol>
          <li v-for="step in steps" :key="step">{{ step }}</li>
        </ol>
      </section>
      <section>
        <h4>Moves along</h4>
        <ul v-if="found.fixed.length">
          <li v-for="one in found.fixed" :key="one.element_id">
            {{ one.label }} <span class="mono">{{ one.now }} → {{ one.then ?? 'no room' }}</span
            ><span v-if="one.on_device" class="quiet"> on the device</span>
          </li>
        </ul>
        <p v-else class="quiet">No fixed address is in it.</p>
        <p v-if="found.clings.length" class="quiet">Clings until it is started again: {{ found.clings.join(', ') }}.</p>
      </section>
    </div>
  </div>
</template>

<style scoped>
.part {
  margin: 0 12px 12px;
}
.part > p {
  margin: 4px 0;
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
}
.steps {
  display: grid;
  grid-template-columns: repeat(4, minmax(0, 1fr));
  gap: 16px;
}
h4 {
  margin: 4px 0 2px;
}
ol,
ul {
  margin: 0;
  padding-left: 18px;
  font-size: 0.88rem;
  line-height: 1.35;
}
section p {
  margin: 2px 0;
  font-size: 0.88rem;
}
</style>
