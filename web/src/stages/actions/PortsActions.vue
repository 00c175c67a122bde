<script setup lang="ts">
/** Power and ports: a switch more, and proposed ports decided. */
import { computed } from 'vue'
import { api, take } from '@/api/client'
import { useMake } from '@/job/make'
import { put } from '@/job/types'
import { useAssessment } from '@/job/useAssessment'
import { useJob } from '@/job/useJob'
import { useLibrary } from '@/job/useLibrary'
import { useSelection } from '@/job/useSelection'
import { useSuggestion } from '@/stages/actions/useSuggestion'

const job = useJob()
const selection = useSelection()
const library = useLibrary()
const assessment = useAssessment()
const make = useMake()
const { busy, suggest } = useSuggestion()
const ask = () => take(api.GET('/api/jobs/{job_id}/ports/suggestion', { params: { path: { job_id: job.id } } }))
const open = computed(() => (assessment.found?.ports ?? []).filter((port) => port.run_id && !port.decided).length)
/** The cheapest that feeds as many runs as are there, else the one with most ports. */
function usual(): string | undefined {
  const runs = job.of('link').length
  const fed = ([, model]: readonly [string, { readonly ports: readonly { gives_class: number; count: number }[] }]) =>
    model.ports.reduce((sum, group) => sum + (group.gives_class ? group.count : 0), 0)
  const all = Object.entries(library.shelves?.equipment ?? {}).filter(
    ([, model]) => model.can.includes('joins') && model.height_u > 0 && model.ports.some((group) => group.gives_class),
  )
  const enough = all.filter((entry) => fed(entry) >= runs).toSorted(([, a], [, b]) => (a.price ?? 0) - (b.price ?? 0))
  return (enough[0] ?? all.toSorted((a, b) => fed(b) - fed(a))[0])?.[0]
}
function addSwitch(): void {
  const rack = job.of('rack')[0]
  const model = usual()
  if (!rack || !model) {
    job.refusal = 'Mark a rack on the sheet first; switches stand in one.'
    return
  }
  const added = make(
    'equipment',
    { model, place: { where: 'rack', rack_id: rack.id, unit: null, face: 'front' } },
    'SW',
  )
  job.edit(`Add ${added.label}`, [put(added)])
  selection.select(added.id)
}
</script>

<template>
  <button
    v-if="open"
    type="button"
    class="ink-button"
    :disabled="busy"
    @click="suggest(ask, 'Decide the ports', 'Every port is decided.')"
  >
    Decide {{ open }} {{ open === 1 ? 'port' : 'ports' }}
  </button>
  <button type="button" class="ink-button" @click="addSwitch">Add a switch</button>
</template>
