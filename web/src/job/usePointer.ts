/** The finding that is pointed at, and stepping from one to the next. */
import { defineStore } from 'pinia'
import { shallowRef } from 'vue'
import type { Finding } from '@/api/schema'
import { useAssessment } from '@/job/useAssessment'
import { useJob } from '@/job/useJob'
import { useSelection } from '@/job/useSelection'
import { useView } from '@/job/useView'

export const usePointer = defineStore('pointer', () => {
  const job = useJob()
  const view = useView()
  const selection = useSelection()
  const assessment = useAssessment()
  /** The finding, and how far down the margin it stands: where the leader to the sheet begins. [px] */
  const pointed = shallowRef<{ finding: Finding; y: number } | null>(null)

  /** Select what a finding is of and show where it is. */
  function visit(finding: Finding): void {
    const subject = finding.subject_ids.find((id) => job.elements.has(id))
    if (subject) selection.select(subject)
    if (finding.place) {
      view.chosenStorey = finding.place.storey_id
      view.goTo = finding.place.at
    }
    pointed.value = { finding, y: 0 }
  }
  function stepFinding(by: 1 | -1): void {
    const list = assessment.open
    if (!list.length) return
    const now = list.findIndex((finding) => finding.key === pointed.value?.finding.key)
    const start = now < 0 && by < 0 ? 0 : now
    const next = list[(start + by + list.length) % list.length]
    if (next) visit(next)
  }
  return { pointed, visit, stepFinding }
})
