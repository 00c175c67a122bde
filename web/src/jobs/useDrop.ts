/** A file dropped on a part of the page: shown while it hangs over it, handed on when it falls. */
import { ref } from 'vue'

export function useDrop(taken: (file: File) => void) {
  const over = ref(false)

  function dragover(event: DragEvent): void {
    if (!event.dataTransfer?.types.includes('Files')) return
    event.preventDefault()
    over.value = true
  }
  /** Passing from one part inside to another is no leaving. */
  function dragleave(event: DragEvent): void {
    const inside =
      event.currentTarget instanceof Node && event.currentTarget.contains(event.relatedTarget as Node | null)
    if (!inside) over.value = false
  }
  function drop(event: DragEvent): void {
    const file = event.dataTransfer?.files[0]
    if (!file) return
    event.preventDefault()
    over.value = false
    taken(file)
  }
  return { over, dragover, dragleave, drop }
}
