/** New elements, started as the library describes their kind; the core checks them. */
import { v7 as uuid } from 'uuid'
import type { KindShown } from '@/api/schema'
import type { Element, Kind, Of } from '@/job/types'
import { useJob } from '@/job/useJob'
import { useLibrary } from '@/job/useLibrary'

/** The next free label of a kind: "AP 3", "R-07". `called` stands for the kind's own stem. */
export function nextLabel(
  about: Pick<KindShown, 'stem' | 'gap' | 'digits'>,
  all: readonly Element[],
  called?: string,
): string {
  const used = new Set(all.map((element) => element.label))
  for (let n = 1; ; n++) {
    const label = `${called ?? about.stem}${called ? ' ' : about.gap}${String(n).padStart(about.digits, '0')}`
    if (!used.has(label)) return label
  }
}

/** A new element of a kind: its starting values, and what is given. */
export function madeOf<K extends Kind>(
  kind: K,
  about: KindShown,
  all: readonly Element[],
  given: Partial<Of<K>>,
  called?: string,
): Of<K> {
  return {
    ...about.starts,
    kind,
    id: uuid(),
    order: 0,
    label: nextLabel(about, all, called),
    ...given,
  } as unknown as Of<K>
}

/** Making elements of the open job. */
export function useMake() {
  const job = useJob()
  const library = useLibrary()
  return <K extends Kind>(kind: K, given: Partial<Of<K>>, called?: string): Of<K> =>
    madeOf(kind, library.about(kind), job.all, given, called)
}
