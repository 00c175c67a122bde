/** Models of equipment in use and of this job's own: their figures, and making new ones from those of the library. */
import { computed } from 'vue'
import type { EquipmentShown } from '@/api/schema'
import { withValue } from '@/margin/fields'
import { useMake } from '@/job/make'
import { modelOf, put, remove, type Of } from '@/job/types'
import { useJob } from '@/job/useJob'
import { useLibrary } from '@/job/useLibrary'

export type Model = Of<'model'>['model']
export interface Shown {
  readonly code: string
  readonly model: Model
  /** Figures of this job's own; for a model the library has not got there is nothing to go back to. */
  readonly own: boolean
  readonly fresh: boolean
}

/** A library model as a job keeps one: without what is worked out of it. */
function bare(shown: EquipmentShown): Model {
  const model: Partial<EquipmentShown> = { ...shown }
  delete model.can
  return model as Model
}

export function useOwnModels() {
  const job = useJob()
  const library = useLibrary()
  const make = useMake()
  const own = computed(() => new Map(job.of('model').map((model) => [model.code, model])))
  const rows = computed<Shown[]>(() => {
    const used = job.all.map(modelOf).filter((code) => code !== null)
    const found = [...new Set([...used, ...own.value.keys()])].toSorted().flatMap((code) => {
      const shown = library.read?.equipment[code]
      const model = own.value.get(code)?.model ?? (shown && bare(shown))
      return model ? [{ code, model, own: own.value.has(code), fresh: !shown }] : []
    })
    // A person's own first: they were made to be filled in.
    return [...found.filter((row) => row.fresh), ...found.filter((row) => !row.fresh)]
  })
  /** What a new model may be made from, by label. */
  const bases = computed(() =>
    Object.entries(library.read?.equipment ?? {}).toSorted(([, a], [, b]) => a.label.localeCompare(b.label)),
  )

  /** Set one figure by its path: `price`, `ports.0.count`. */
  function set({ code, model }: Shown, path: string, value: unknown): void {
    const next = withValue(model, path, value)
    const mine = own.value.get(code) ?? make('model', { code, model: next, label: model.label })
    job.edit(`Own figures of ${model.label}`, [put({ ...mine, label: next.label, model: next })])
  }
  /** A model of this job's own, started as one of the library. */
  function add(from: string): void {
    const base = library.read?.equipment[from]
    if (!base) return
    const taken = new Set([...own.value.keys(), ...Object.keys(library.read?.equipment ?? {})])
    let n = 1
    while (taken.has(`own-model-${n}`)) n++
    const label = `${base.label} (own ${n})`
    job.edit(`Add ${label}`, [put(make('model', { code: `own-model-${n}`, model: { ...bare(base), label }, label }))])
  }
  function giveBack({ code, fresh }: Shown): void {
    const mine = own.value.get(code)
    if (mine) job.edit(fresh ? `Remove ${mine.label}` : `Library's figures of ${mine.label}`, [remove(mine.id)])
  }
  return { rows, bases, set, add, giveBack }
}
