<script setup lang="ts">
/** Ports and access points as they were found beside their plan: by the controller, or typed where somebody looked. */
import { computed, ref } from 'vue'
import { api, take } from '@/api/client'
import type { PointProof, PortProof } from '@/api/schema'
import { useGuarded } from '@/api/useGuarded'
import { useJob } from '@/job/useJob'
import { useSelection } from '@/job/useSelection'
import BySign from '@/prove/BySign.vue'
import ChecksPart from '@/prove/ChecksPart.vue'
import StateMark from '@/prove/StateMark.vue'
import { pointAsPlanned, portAsPlanned } from '@/prove/planned'
import { useProven } from '@/prove/useProven'
import type { Written } from '@/site/useRecords'

const job = useJob()
const proven = useProven()
const selection = useSelection()
const { said, busy, guarded } = useGuarded()
const opened = ref('')
const ports = computed(() => proven.found?.ports ?? [])
const points = computed(() => proven.found?.points ?? [])
const switches = computed(() => [...new Map(ports.value.map((port) => [port.switch_id, port.switch_label]))])
const held = (some: readonly { state: string }[]): number => some.filter((one) => one.state === 'holds').length
async function askController(): Promise<void> {
  await job.during(async () => {
    const params = { path: { job_id: job.id } }
    await guarded(() => take(api.POST('/api/jobs/{job_id}/prove/controller', { params })))
    job.doubted()
  })
}
function open(key: string, element: string): void {
  opened.value = opened.value === key ? '' : key
  selection.select(element)
}
const portRecord = (port: PortProof, seen = portAsPlanned(port)): Written => ({
  kind: 'measured',
  subject: port.subject,
  measured: seen,
})
const pointRecord = (point: PointProof, seen = pointAsPlanned(point)): Written => ({
  kind: 'measured',
  subject: point.point_id,
  measured: seen,
})
const portsOf = (id: string): PortProof[] => ports.value.filter((port) => port.switch_id === id)
</script>

<template>
  <section class="panel" aria-label="Ports and points">
    <p v-if="said || proven.said" class="fault lead" role="alert">▲ {{ said || proven.said }}</p>
    <p class="lead head">
      <button type="button" class="ink-button primary" :disabled="busy" @click="askController">
        Ask the controller
      </button>
      <span class="quiet">or look, and type what you saw: open a row.</span>
      <BySign />
    </p>
    <p v-if="!ports.length && !points.length" class="quiet lead">
      Place points and switches first; what is seen at each stands here beside its plan.
    </p>
    <div class="beside">
      <div v-if="ports.length">
        <h3>Ports: {{ held(ports) }} of {{ ports.length }} as planned</h3>
        <template v-for="[id, label] in switches" :key="id">
          <p class="of">
            <strong>{{ label }}</strong>
            <button
              type="button"
              class="ink-button"
              @click="proven.write(...portsOf(id).map((port) => portRecord(port)))"
            >
              I saw all {{ portsOf(id).length }} as planned
            </button>
          </p>
          <ul>
            <li v-for="port in portsOf(id)" :key="port.subject" :class="{ chosen: opened === port.subject }">
              <button
                type="button"
                class="bare row"
                :aria-expanded="opened === port.subject"
                @click="open(port.subject, port.switch_id)"
              >
                <span class="mono">{{ port.port }}</span>
                <span>{{ port.to_label }}</span>
                <StateMark :state="port.state" none="not looked at" />
                <span class="quiet">{{ port.seen_by }}</span>
              </button>
              <ChecksPart
                v-if="opened === port.subject"
                :checks="port.checks"
                :planned="portAsPlanned(port)"
                @keep="(seen) => proven.write(portRecord(port, seen))"
              />
            </li>
          </ul>
        </template>
      </div>
      <div v-if="points.length">
        <h3>Access points: {{ held(points) }} of {{ points.length }} as planned</h3>
        <ul>
          <li v-for="point in points" :key="point.point_id" :class="{ chosen: opened === point.point_id }">
            <button
              type="button"
              class="bare row"
              :aria-expanded="opened === point.point_id"
              @click="open(point.point_id, point.point_id)"
            >
              <span>{{ point.storey }}</span>
              <span>{{ point.label }}</span>
              <StateMark :state="point.state" none="not looked at" />
              <span class="quiet">{{ point.seen_by }}</span>
            </button>
            <ChecksPart
              v-if="opened === point.point_id"
              :checks="point.checks"
              :planned="pointAsPlanned(point)"
              :names="point.names"
              :guests="point.guests"
              @keep="(seen) => proven.write(pointRecord(point, seen))"
            />
          </li>
        </ul>
      </div>
    </div>
  </section>
</template>

<style scoped>
.panel {
  overflow: auto;
}
.head {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 14px;
  align-items: center;
}
.beside {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 0 20px;
  padding: 0 12px 10px;
}
h3 {
  margin: 4px 0;
}
.of {
  display: flex;
  gap: 10px;
  align-items: center;
  margin: 4px 0;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  border-top: 1px solid var(--rule);
}
.row {
  display: grid;
  grid-template-columns: 5.5rem minmax(7rem, 1fr) 7.5rem minmax(5rem, 1fr);
  gap: 8px;
  width: 100%;
  min-height: 26px;
  align-items: center;
  font-size: 0.9rem;
}
.chosen {
  background: var(--heather-tint);
}
</style>
