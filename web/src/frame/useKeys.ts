/** The keys of the frame; the sheet has its own for drawing. */
import { useEventListener } from '@vueuse/core'
import { useJob } from '@/job/useJob'
import { useShape } from '@/job/useShape'
import { useSelection } from '@/job/useSelection'
import { usePointer } from '@/job/usePointer'
import { useView } from '@/job/useView'
import { useLibrary } from '@/job/useLibrary'
import { useTools } from '@/sheet/tools'
import { remove } from '@/job/types'

export function useKeys(act: { palette: () => void; keys: () => void }): void {
  const job = useJob()
  const view = useView()
  const pointer = usePointer()
  const selection = useSelection()
  const shaping = useShape()
  const library = useLibrary()
  const { tools } = useTools()

  function inField(event: KeyboardEvent): boolean {
    const target = event.target
    return target instanceof HTMLElement && (target.matches('input, select, textarea') || target.isContentEditable)
  }
  function command(event: KeyboardEvent): boolean {
    const key = event.key.toLowerCase()
    if (key === 'k') act.palette()
    else if (key === 'z' && event.shiftKey) void job.redo()
    else if (key === 'z' && !inField(event)) void job.undo()
    else if (key === 'y' && !inField(event)) void job.redo()
    else return false
    return true
  }
  function plain(event: KeyboardEvent): boolean {
    const stage = library.stages.find((s) => s.key === event.key)
    const tool = tools.value.find((t) => t.key === event.key.toLowerCase())
    if (event.key === 'Escape') escape()
    else if (stage) view.stage = stage.id
    else if (event.key === '.') pointer.stepFinding(1)
    else if (event.key === ',') pointer.stepFinding(-1)
    else if (event.key === '[') view.floor(-1)
    else if (event.key === ']') view.floor(1)
    else if (event.key === '?') act.keys()
    else if (event.key === 't') view.drawer = !view.drawer
    else if (event.key === 'v') view.look = view.look === 'sheet' ? '3d' : 'sheet'
    else if (event.key === 'Delete' && selection.many.size > 1) takeAwayMany()
    else if (event.key === 'Delete' && selection.element) takeAway(selection.element.id, selection.element.label)
    else if (tool) take(tool.name, tool.stages)
    else return false
    return true
  }
  /** A tool's key opens a stage that has the tool. */
  function take(name: string, stages: readonly string[]): void {
    if (!stages.includes(view.stage)) view.stage = stages[0] ?? 'plan'
    setTimeout(() => {
      view.tool = name
    })
    document.querySelector<HTMLElement>('.sheet')?.focus()
  }
  function escape(): void {
    if (view.tool !== 'select') view.tool = 'select'
    else if (view.openSum) view.openSum = null
    else selection.select(null)
  }
  function takeAwayMany(): void {
    const ids = [...selection.many]
    selection.select(null)
    void shaping.run(`Remove ${ids.length} things`, { do: 'remove', ids })
  }
  function takeAway(id: string, label: string): void {
    if (selection.element && library.about(selection.element.kind).single) return
    selection.select(null)
    job.edit(`Remove ${label}`, [remove(id)])
  }
  useEventListener('keydown', (event: KeyboardEvent) => {
    if (document.querySelector('[role="dialog"]')) return
    const handled = event.ctrlKey || event.metaKey ? command(event) : !event.altKey && !inField(event) && plain(event)
    if (handled) event.preventDefault()
  })
}
