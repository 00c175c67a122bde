<script setup lang="ts">
/** The radios of an access point: on, channel (planned or set), power, and why this channel. */
import { vDraft } from '@/ink/draft'
import { computed } from 'vue'
import { put, type Of } from '@/job/types'
import { useAssessment } from '@/job/useAssessment'
import { useJob } from '@/job/useJob'
import { useLibrary } from '@/job/useLibrary'
import { useUnits } from '@/units/useUnits'

type RadioOf = Of<'access-point'>['radios'][number]
const props = defineProps<{ point: Of<'access-point'> }>()
const job = useJob()
const units = useUnits()
const library = useLibrary()
const assessment = useAssessment()

const rows = computed(() => {
  const model = library.shelves?.equipment[props.point.model]
  return (model?.bands ?? []).map((band) => {
    const set = props.point.radios.find((radio) => radio.band === band.band)
    const plan = assessment.found?.radios.find((row) => row.point_id === props.point.id && row.band === band.band)
    const inUse: RadioOf = set ?? {
      band: band.band,
      on: plan?.on ?? false,
      channel: null,
      width_mhz: null,
      power_dbm: plan?.power_dbm ?? band.max_dbm,
      locked: false,
      aside: false,
    }
    return { radio: inUse, plan, most: band.max_dbm }
  })
})
function change(radio: RadioOf, changes: Partial<RadioOf>): void {
  const radios = rows.value
    .filter((row) => row.radio.on || row.radio.band === radio.band)
    .map((row) => (row.radio.band === radio.band ? { ...radio, locked: true, ...changes } : row.radio))
  job.edit(`Change ${props.point.label} ${radio.band} GHz`, [put({ ...props.point, radios })])
}
function entered(event: Event): number | null {
  const text = (event.target as HTMLInputElement).value.trim()
  const value = Number(text.replace(',', '.'))
  return text === '' || Number.isNaN(value) ? null : value
}
</script>

<template>
  <table class="radios">
    <caption class="visually-hidden">
      Radios
    </caption>
    <thead>
      <tr>
        <th scope="col">GHz</th>
        <th scope="col">on</th>
        <th scope="col">channel</th>
        <th scope="col">dBm</th>
        <th scope="col">lock</th>
        <th scope="col">hop</th>
      </tr>
    </thead>
    <tbody v-for="{ radio, plan, most } in rows" :key="radio.band">
      <tr>
        <th scope="row" class="mono">{{ radio.band }}</th>
        <td>
          <input
            type="checkbox"
            :checked="radio.on"
            :aria-label="`${radio.band} GHz on`"
            @change="change(radio, { on: !radio.on })"
          />
        </td>
        <td>
          <input
            class="field number"
            :value="radio.channel ?? ''"
            :placeholder="plan?.channel ? String(plan.channel) : ''"
            :aria-label="`${radio.band} GHz channel, empty leaves it to the plan`"
            @change="change(radio, { channel: entered($event) })"
          />
          <span class="quiet mono">{{ plan ? `${plan.width_mhz} MHz` : '' }}</span>
        </td>
        <td>
          <input
            v-draft="radio.power_dbm"
            class="field number"
            :aria-label="`${radio.band} GHz power, at most ${most} dBm`"
            @change="entered($event) !== null && change(radio, { power_dbm: entered($event) ?? radio.power_dbm })"
          />
        </td>
        <td>
          <input
            type="checkbox"
            :checked="radio.locked"
            :aria-label="`${radio.band} GHz locked against plans of the whole job`"
            @change="change(radio, { locked: !radio.locked })"
          />
        </td>
        <td>
          <input
            type="checkbox"
            :checked="radio.aside"
            :aria-label="`${radio.band} GHz set aside for hops between access points, no clients on it`"
            @change="change(radio, { aside: !radio.aside })"
          />
        </td>
      </tr>
      <tr v-if="plan">
        <td colspan="6" class="quiet why">{{ units.sentence(plan.reason) }}</td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
.radios {
  border-collapse: collapse;
  font-size: 0.88rem;
  width: 100%;
}
th {
  font-weight: 400;
  text-align: left;
  color: var(--ink-quiet);
  padding: 1px 6px 1px 0;
}
tbody th {
  color: var(--ink);
}
td {
  padding: 1px 6px 1px 0;
  white-space: nowrap;
}
.field {
  width: 3.1rem;
  min-width: 0;
  box-sizing: border-box;
}
.field + span {
  margin-left: 4px;
  white-space: nowrap;
}
.field::placeholder {
  color: var(--ink-quiet);
  opacity: 1;
}
.why {
  white-space: normal;
  font-size: 0.82rem;
  padding-bottom: 5px;
  line-height: 1.3;
}
input[type='checkbox'] {
  accent-color: var(--heather);
  margin: 0;
}
</style>
