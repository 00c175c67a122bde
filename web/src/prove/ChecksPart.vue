<script setup lang="ts" generic="Seen extends PortSeen | PointSeen">
/** One port or point opened: planned beside found, and a form that begins with the plan. */
import { reactive } from 'vue'
import type { Check, PointSeen, PortSeen } from '@/api/schema'
import { numberOf } from '@/units/typed'

const props = defineProps<{
  checks: readonly Check[]
  planned: Seen
  names?: Record<string, string>
  guests?: boolean
}>()
const emit = defineEmits<{ keep: [seen: Seen] }>()
const typed = reactive(JSON.parse(JSON.stringify(props.planned)) as PortSeen | PointSeen)
function value(event: Event): string {
  return (event.target as HTMLInputElement).value
}
function join(id: string, event: Event): void {
  if (typed.measured !== 'point') return
  const on = (event.target as HTMLInputElement).checked
  typed.joined = on ? [...typed.joined, id] : typed.joined.filter((one) => one !== id)
  typed.not_joined = on ? typed.not_joined.filter((one) => one !== id) : [...typed.not_joined, id]
}
const keep = (): void => emit('keep', JSON.parse(JSON.stringify(typed)) as Seen)
</script>

<template>
  <div class="part">
    <table class="plain-table">
      <thead>
        <tr>
          <th>What</th>
          <th>Planned</th>
          <th>Found</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="check in checks" :key="check.name">
          <th scope="row">{{ check.name }}</th>
          <td>{{ check.planned }}</td>
          <td :class="{ fault: check.holds === false, holds: check.holds }">
            <span v-if="check.holds !== null" aria-hidden="true">{{ check.holds ? '✓ ' : '▲ ' }}</span>{{
              check.found || '–'
            }}
          </td>
        </tr>
      </tbody>
    </table>
    <form @submit.prevent="keep">
      <template v-if="typed.measured === 'port'">
        <label
          >Links at
          <input
            class="field number"
            inputmode="numeric"
            :value="typed.mbps"
            aria-label="Speed found, Mb/s"
            @change="typed.mbps = numberOf(value($event))"
          />
          <span class="quiet">Mb/s, 0 for no link</span></label
        >
        <label
          >draws
          <input
            class="field number"
            inputmode="decimal"
            :value="typed.watts"
            aria-label="Power found, W"
            @change="typed.watts = numberOf(value($event))"
          />
          <span class="quiet">W</span></label
        >
        <label>in <input v-model.trim="typed.network" class="field" maxlength="80" aria-label="Network found" /></label>
      </template>
      <template v-else>
        <label>Serial <input v-model.trim="typed.serial" class="field" maxlength="32" /></label>
        <label v-for="radio in typed.radios" :key="radio.band"
          >{{ radio.band }} GHz on
          <input
            class="field number"
            inputmode="numeric"
            :value="radio.channel"
            :aria-label="`Channel found, ${radio.band} GHz`"
            @change="radio.channel = numberOf(value($event))"
          />
          at
          <input
            class="field number"
            inputmode="decimal"
            :value="radio.power_dbm"
            :aria-label="`Power found, ${radio.band} GHz, dBm`"
            @change="radio.power_dbm = numberOf(value($event))"
          />
          <span class="quiet">dBm</span></label
        >
        <label v-for="(name, id) in names" :key="id"
          ><input type="checkbox" :checked="typed.joined.includes(id)" @change="join(id, $event)" /> joined
          {{ name }}</label
        >
        <label v-if="guests"
          ><input v-model="typed.guest_kept_out" type="checkbox" /> a guest reaches nothing inside</label
        >
      </template>
      <button type="submit" class="ink-button primary">Keep what I saw</button>
    </form>
  </div>
</template>

<style scoped>
.part {
  padding: 2px 0 8px 10px;
  border-left: 3px solid var(--heather);
}
form {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 14px;
  align-items: center;
  padding: 6px 0 0;
}
.number {
  width: 3.8rem;
}
</style>
