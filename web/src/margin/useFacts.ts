/** Computed facts of an element; every figure opens to its sum. */
import { computed } from 'vue'
import type { MeshNode, Sum } from '@/api/schema'
import { modelOf, type Element } from '@/job/types'
import { useAccount } from '@/job/useAccount'
import { useAssessment } from '@/job/useAssessment'
import { useLibrary } from '@/job/useLibrary'
import { useUnits } from '@/units/useUnits'

export interface Fact {
  label: string
  text: string
  sum?: Sum | null
  goes?: string
  bad?: boolean
  opens?: () => void
}

/** What becomes of a cable that lies already. */
const KEEP = { use: 'Use it', test: 'Test it first', retire: 'Retire it' } as const

/** What was computed of an element, by what it is and what it can do. */
export function useFacts(element: () => Element) {
  const assessment = useAssessment()
  const units = useUnits()
  const account = useAccount()
  const library = useLibrary()

  const facts = computed<Fact[]>(() => {
    const e = element()
    if (e.kind === 'link') return run(e.id)
    if (e.kind === 'space') return space(e.id)
    if (e.kind === 'pathway') return pathway(e.id)
    if (library.can(modelOf(e), 'joins')) return budget(e.id)
    if (library.model(modelOf(e))) return served(e.id)
    if (e.kind === 'network')
      return (
        assessment.found?.scopes
          .filter((s) => s.network_id === e.id)
          .map((s) => ({ label: 'Wanted', text: `${s.wanted} of ${s.usable} addresses`, sum: s.sum, bad: !s.holds })) ??
        []
      )
    if (e.kind === 'wall')
      return [{ label: 'Length', text: units.quantity(Math.hypot(e.b.x_m - e.a.x_m, e.b.y_m - e.a.y_m), 'm', 2) }]
    return []
  })
  function sum(label: string, found: Sum): Fact {
    const limit =
      found.limit === null || found.limit === undefined ? '' : ` / ${units.quantity(found.limit, found.unit)}`
    return { label, text: `${units.quantity(found.value, found.unit)}${limit}`, sum: found, bad: !found.holds }
  }
  function served(id: string): Fact[] {
    const own = [...assessment.runs.values()].find((plan) => plan.to_id === id)
    if (!own) return withoutCable(id)
    const port = assessment.found?.ports.find((p) => p.run_id === own.run_id && p.side === 'a')
    const feed = assessment.found?.feeds.find((f) => f.run_id === own.run_id)
    const facts: Fact[] = [
      {
        label: 'Run',
        text: `${own.label} · ${units.quantity(own.length_m, 'm', 1)} · Cat ${own.category}`,
        sum: own.length_sum,
        goes: own.run_id,
      },
    ]
    if (port)
      facts.push({
        label: 'Port',
        text: `${port.switch_label}/${port.port} · class ${port.needs_class} of ${port.poe_class}`,
        goes: port.switch_id,
        bad: !port.holds,
      })
    if (feed)
      facts.push({
        label: 'Power',
        text: `${units.quantity(feed.device_max_w, 'W')} here, ${units.quantity(feed.max_source_w ?? 0, 'W')} at the port`,
        sum: feed.sum,
        bad: !feed.holds,
      })
    return facts
  }
  function run(id: string): Fact[] {
    const plan = assessment.runs.get(id)
    if (!plan) return uncabled(id)
    const port = assessment.found?.ports.find((p) => p.run_id === id && p.side === 'a')
    const facts: Fact[] = [
      { label: 'To', text: plan.to_label, goes: plan.to_id },
      sum('Length', plan.length_sum),
      {
        label: 'Limit',
        text: `${units.quantity(plan.limit_m, 'm', 1)} at ${units.quantity(plan.hottest_c, 'C', 0)}`,
        sum: plan.limit_sum,
      },
      {
        label: 'Speed',
        text: `${units.quantity(plan.speed_mbps, 'Mb/s')}, Cat ${plan.category} to ${units.quantity(plan.carries_m, 'm', 0)}`,
      },
    ]
    facts.push(
      {
        label: 'Next',
        text: `${units.quantity(plan.next_mbps, 'Mb/s')} ${plan.carries_next ? 'is carried too' : 'is not carried over this length'}`,
      },
      {
        label: 'Bends',
        text: `${plan.bend_mm.toFixed(0)} mm at rest, ${plan.bend_pulled_mm.toFixed(0)} mm while pulled, at the least`,
      },
    )
    if (plan.keep)
      facts.push({
        label: 'It lies there',
        text: `${KEEP[plan.keep.verdict]}. ${plan.keep.why}`,
        bad: plan.keep.verdict === 'retire',
      })
    const feed = assessment.found?.feeds.find((f) => f.run_id === id)
    if (feed) facts.push(sum('At the device', feed.sum))
    if (port)
      facts.push({
        label: 'Port',
        text: `${port.switch_label}/${port.port} ${port.state}`,
        goes: port.switch_id,
        bad: !port.holds,
      })
    return facts
  }
  /** What no cable goes to: it hangs on another point or on the mains, or on nothing yet. */
  function withoutCable(id: string): Fact[] {
    const hop = assessment.found?.meshes.find((one) => one.node_id === id)
    if (hop) return hopOf(hop)
    const pair = assessment.found?.mains.find((one) => one.ends.includes(id))
    if (pair) return [{ label: 'Hangs on', text: pair.label, goes: pair.link_id }, carriesOf(pair.throughput)]
    return [{ label: 'Run', text: 'no cable yet', bad: true }]
  }
  /** A link without a cable: a bridge, a hop from point to point, a pair on the mains. */
  function uncabled(id: string): Fact[] {
    const hop = assessment.found?.meshes.find((one) => one.link_id === id)
    if (hop) return hopOf(hop)
    const pair = assessment.found?.mains.find((one) => one.link_id === id)
    if (pair) return [carriesOf(pair.throughput)]
    return bridge(id)
  }
  function hopOf(hop: MeshNode): Fact[] {
    const second = hop.second_label ? [{ label: 'Second', text: hop.second_label }] : []
    const heard = hop.level ? [sum('Heard', hop.level)] : []
    return [
      { label: 'Hangs on', text: hop.parent_label, goes: hop.parent_id ?? undefined, bad: !hop.holds },
      ...heard,
      carriesOf(hop.throughput),
      ...second,
    ]
  }
  function carriesOf(throughput: Sum | null | undefined): Fact {
    return throughput ? sum('Carries', throughput) : { label: 'Carries', text: 'nothing', bad: true }
  }
  function bridge(id: string): Fact[] {
    const plan = assessment.found?.bridges.find((one) => one.link_id === id)
    if (!plan) return []
    const ends = plan.ends.map((end, n) => ({ label: n ? 'Far end' : 'Near end', text: end.label, goes: end.unit_id }))
    return [carriesOf(plan.throughput), { label: 'Length', text: units.quantity(plan.length_m, 'm') }, ...ends]
  }
  function pathway(id: string): Fact[] {
    const plan = assessment.found?.pathways.find((p) => p.pathway_id === id)
    if (!plan) return []
    return [{ label: 'Runs in it', text: String(plan.run_ids.length) }, ...(plan.sum ? [sum('Fill', plan.sum)] : [])]
  }
  function space(id: string): Fact[] {
    const score = assessment.spaces.get(id)
    if (!score) return []
    return [
      { label: 'Need', text: `${score.need_label}, ${score.band} GHz` },
      sum('Meets it', score.sum),
      {
        label: 'Worst',
        opens: () => void account.open(score.worst_at, score.band, score.storey_id),
        text: `${units.quantity(score.worst_dbm, 'dBm')} best, ${units.quantity(score.worst_second_dbm, 'dBm')} second`,
      },
      { label: 'Area', text: units.quantity(score.area_m2, 'm2') },
    ]
  }
  function budget(id: string): Fact[] {
    const plan = assessment.found?.budgets.find((b) => b.switch_id === id)
    if (!plan) return []
    return [
      sum('Budget', plan.sum),
      { label: 'By class', text: units.quantity(plan.by_class.value, 'W'), sum: plan.by_class },
      { label: 'By maximum', text: units.quantity(plan.by_maximum.value, 'W'), sum: plan.by_maximum },
      { label: 'By typical', text: units.quantity(plan.by_typical.value, 'W'), sum: plan.by_typical },
      { label: 'Ports', text: `${plan.ports_used} of ${plan.ports_total}` },
    ]
  }
  return facts
}
