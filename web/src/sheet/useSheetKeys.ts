import { computed, ref, type Ref } from 'vue'
import { isStanding, type XY } from '@/job/types'
import { useSelection } from '@/job/useSelection'
import { useView } from '@/job/useView'
import { toSheet } from '@/sheet/geometry'
import type { useDragging } from '@/sheet/useDragging'
import type { useDrawing } from '@/sheet/useDrawing'
import type { useViewport } from '@/sheet/useViewport'

interface Parts {
  draw: ReturnType<typeof useDrawing>
  dragging: ReturnType<typeof useDragging>
  viewport: ReturnType<typeof useViewport>
}

/** The sheet worked by keys alone: a cross for the tool in hand, nudges, zoom. */
export function useSheetKeys(parts: Parts, act: { fit: () => void; account: (at: XY) => void }) {
  const { draw, dragging, viewport } = parts
  const view = useView()
  const selection = useSelection()
  const drawing = computed(() => view.tool !== 'select')
  /** Whether the tool's place was set by keys: Enter then presses there. */
  const cross: Ref<boolean> = ref(false)

  /** Arrow keys move the cross of a tool in hand, or nudge what is selected. */
  function keydown(event: KeyboardEvent): void {
    if (event.ctrlKey || event.metaKey || event.altKey) return
    const step = event.shiftKey ? 1 : 0.1
    const ways: Record<string, [number, number]> = {
      ArrowLeft: [-step, 0],
      ArrowRight: [step, 0],
      ArrowUp: [0, -step],
      ArrowDown: [0, step],
    }
    const way = ways[event.key]
    if (way && drawing.value) {
      const at = draw.pointer.value ?? toSheet(viewport.view.value, viewport.width.value / 2, viewport.height.value / 2)
      draw.pointer.value = { x_m: at.x_m + way[0], y_m: at.y_m + way[1] }
      cross.value = true
    } else if (way && isStanding(selection.element)) dragging.nudge(...way)
    else if (event.key === 'Enter' && drawing.value) {
      if (cross.value && view.tool === 'account' && draw.pointer.value) act.account(draw.pointer.value)
      else if (cross.value && !draw.typed.value && draw.pointer.value) draw.press(draw.pointer.value)
      else draw.finish()
    } else if (event.key === '+' || event.key === '=') viewport.zoomBy(1.3)
    else if (event.key === '-') viewport.zoomBy(1 / 1.3)
    else if (event.key === '0' && event.shiftKey) act.fit()
    else if (!draw.type(event.key)) return
    event.preventDefault()
    event.stopPropagation()
  }
  return { cross, keydown }
}
