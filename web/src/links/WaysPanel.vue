<script setup lang="ts">
/** All ways by which data may reach a thing, compared: what each carries, costs and hangs on, or why it is out. */
import { computed, ref } from 'vue'
import type { Sum, Way } from '@/api/schema'
import { useJob } from '@/job/useJob'
import { useView } from '@/job/useView'
import { useWays } from '@/links/useWays'
import { useUnits } from '@/units/useUnits'

const job = useJob()
const view = useView()
const units = useUnits()
const ways = useWays()
/** The way that is opened: the first, until a person chooses; empty when all are closed. */
const asked = ref<string | null>(null)
const currency = computed(() => job.of('practice')[0]?.currency ?? 'EUR')
const working = computed(() => ways.found.value?.ways.filter((way) => !way.why_not) ?? [])
const out = computed(() => ways.found.value?.ways.filter((way) => way.why_not) ?? [])

const opened = computed(() => asked.value ?? working.value[0]?.code ?? '')
function open(way: Way): void {
  asked.value = opened.value === way.code ? '' : way.code
}
function show(sum: Sum): void {
  view.openSum = sum
}
</script>

<template>
  <section class="panel ways" aria-label="Ways">
    <p v-if="!ways.things.value.length" class="quiet">
      Place an access point or an outlet; all ways by which data may reach it are compared here.
    </p>
    <template v-else>
      <p class="head">
        <label
          >Ways to
          <select
            class="field"
            :value="ways.chosen.value"
            @change="ways.pick(($event.target as HTMLSelectElement).value)"
          >
            <option v-for="thing in ways.things.value" :key="thing.element_id" :value="thing.element_id">
              {{ thing.label }}
            </option>
          </select>
        </label>
        <template v-if="ways.found.value">
          <span class="quiet">{{ ways.found.value.houses.join(' to ') }}</span>
          <span
            >to carry
            <button type="button" class="bare sum-link mono" @click="show(ways.found.value.need)">
              {{ units.quantity(ways.found.value.need.value, 'Mb/s', 0) }}
            </button></span
          >
        </template>
      </p>
      <p v-if="ways.said.value" class="fault" role="alert">▲ {{ ways.said.value }}</p>
      <table v-if="ways.found.value" class="plain-table">
        <thead>
          <tr>
            <th>Way</th>
            <th class="number">Carries</th>
            <th class="number">Delay</th>
            <th class="number">Parts</th>
            <th class="number">Hours</th>
            <th><span class="visually-hidden">Take it</span></th>
          </tr>
        </thead>
        <tbody>
          <template v-for="way in working" :key="way.code">
            <tr :class="{ chosen: opened === way.code }">
              <th scope="row">
                <button type="button" class="bare" :aria-expanded="opened === way.code" @click="open(way)">
                  <span :class="way.meets ? 'holds' : 'advice'" aria-hidden="true">{{ way.meets ? '✓' : '◇' }}</span>
                  {{ way.label }}
                </button>
              </th>
              <td class="mono">
                <button
                  v-if="way.throughput"
                  type="button"
                  class="bare sum-link"
                  :class="{ fault: !way.meets }"
                  @click="show(way.throughput)"
                >
                  {{ units.quantity(way.throughput.value, 'Mb/s', 0) }}
                </button>
              </td>
              <td class="mono">{{ units.quantity(way.latency_ms, 'ms') }}</td>
              <td class="mono">
                <button type="button" class="bare sum-link" @click="show(way.cost)">
                  {{ units.quantity(way.cost.value, currency, 0) }}
                </button>
                <br v-if="way.monthly" /><template v-if="way.monthly">{{ way.monthly.toFixed(0) }} a month</template>
              </td>
              <td class="mono">
                <button type="button" class="bare sum-link" @click="show(way.hours)">{{ way.hours.value }} h</button>
              </td>
              <td>
                <span v-if="way.code === ways.found.value?.taken" class="holds">taken</span>
                <button
                  v-else-if="ways.found.value?.choosable.includes(way.code)"
                  type="button"
                  class="ink-button"
                  :disabled="ways.busy.value"
                  :aria-label="`Use ${way.label}`"
                  @click="ways.choose(way)"
                >
                  Use
                </button>
              </td>
            </tr>
            <tr v-if="opened === way.code" class="more">
              <td colspan="6">
                <p>{{ way.depends }} {{ way.risk }}</p>
                <p v-if="way.checks.length">
                  <template v-for="check in way.checks" :key="check.label">
                    <button type="button" class="bare sum-link" @click="show(check)">
                      {{ check.label }} {{ units.quantity(check.value, check.unit)
                      }}<template v-if="check.limit !== null && check.limit !== undefined">
                        against {{ units.quantity(check.limit, check.unit) }}</template
                      ></button
                    >{{ ' ' }}
                  </template>
                </p>
                <p v-for="caution in way.cautions" :key="caution" class="advice">◇ {{ caution }}</p>
              </td>
            </tr>
          </template>
          <tr v-for="way in out" :key="way.code" class="out">
            <th scope="row"><span aria-hidden="true">–</span> {{ way.label }}</th>
            <td colspan="5" class="words">
              {{ way.why_not }}
              <template v-for="check in way.checks" :key="check.label">
                <button type="button" class="bare sum-link" @click="show(check)">{{ check.label }}</button>{{ ' ' }}
              </template>
            </td>
          </tr>
        </tbody>
      </table>
    </template>
  </section>
</template>

<style scoped>
.plain-table {
  width: 100%;
  max-width: 900px;
}
.plain-table th:first-child {
  width: 40%;
}
.plain-table .more td {
  white-space: normal;
}
.more p {
  margin: 2px 0;
  line-height: 1.35;
}
.out,
.out th {
  color: var(--ink-quiet);
}
.chosen {
  background: var(--heather-tint);
}
</style>
