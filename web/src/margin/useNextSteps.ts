/** The next useful step of the open job; what a person puts off gives way to the one after. */
import { defineStore } from 'pinia'
import { computed, ref, watch } from 'vue'
import { useAssessment } from '@/job/useAssessment'
import { useJob } from '@/job/useJob'
import { usePointer } from '@/job/usePointer'

export const useNextSteps = defineStore('next-steps', () => {
  const job = useJob()
  const assessment = useAssessment()
  const pointer = usePointer()
  /** Steps put off until the job is opened again. */
  const later = ref<ReadonlySet<string>>(new Set())
  watch(
    () => job.id,
    () => {
      later.value = new Set()
    },
  )
  const left = computed(() => (assessment.found?.next ?? []).filter((step) => !later.value.has(step.code)))
  const step = computed(() => left.value[0] ?? null)
  const mayWait = computed(() => left.value.length > 1)
  /** The finding to go to: of those the step is about, the one after the one that is pointed at. */
  const finding = computed(() => {
    const keys = step.value?.findings ?? []
    const at = keys.indexOf(pointer.pointed?.finding.key ?? '')
    const key = keys[(at + 1) % keys.length]
    return assessment.findings.find((one) => one.key === key) ?? null
  })
  function putOff(): void {
    if (step.value && mayWait.value) later.value = new Set([...later.value, step.value.code])
  }
  return { step, finding, mayWait, putOff }
})
