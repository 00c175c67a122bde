/** The stages in the order of the work, as the library has them. */
import { computed } from 'vue'
import { useLibrary } from '@/job/useLibrary'
import { useView } from '@/job/useView'

export function useStages() {
  const library = useLibrary()
  const view = useView()
  const stages = computed(() => library.stages)
  const now = computed(() => library.stages.find((stage) => stage.id === view.stage))
  return { stages, now }
}
