/** A cable taken from one port and put on another: by pointer or by keys, one edit; where another is, the two trade. */
import { shallowRef, type ShallowRef } from 'vue'
import type { PortPlan } from '@/api/schema'
import { useJob } from '@/job/useJob'
import { put, type Of, type Operation } from '@/job/types'

type Link = Of<'link'>
export type Plug = Pick<PortPlan, 'switch_id' | 'switch_label' | 'port' | 'run_id' | 'side' | 'run_label'>

function plugged(link: Link, side: 'a' | 'b', at: Plug): Link {
  return { ...link, [side]: { ...link[side], on: at.switch_id, port: at.port } }
}

export function useCable(): {
  held: ShallowRef<Plug | null>
  take: (from: Plug) => void
  letGo: () => void
  putOn: (to: Plug) => void
} {
  const job = useJob()
  const held = shallowRef<Plug | null>(null)
  function linkOf(plug: Plug): Link | null {
    const element = plug.run_id ? job.elements.get(plug.run_id) : undefined
    return element?.kind === 'link' ? element : null
  }
  function take(from: Plug): void {
    held.value = linkOf(from) ? from : null
  }
  function letGo(): void {
    held.value = null
  }
  function putOn(to: Plug): void {
    const from = held.value
    held.value = null
    if (!from?.side || (from.switch_id === to.switch_id && from.port === to.port)) return
    const link = linkOf(from)
    const other = linkOf(to)
    if (!link) return
    const operations: Operation[] = []
    if (other && to.side && other.id === link.id) {
      operations.push(put(plugged(plugged(link, from.side, to), to.side, from)))
    } else {
      operations.push(put(plugged(link, from.side, to)))
      if (other && to.side) operations.push(put(plugged(other, to.side, from)))
    }
    job.edit(`${link.label} to ${to.switch_label}/${to.port}`, operations)
  }
  return { held, take, letGo, putOn }
}
