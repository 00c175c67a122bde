<script setup lang="ts">
/** The papers of the crew, each with what it is for. */
import { useJob } from '@/job/useJob'

const job = useJob()
const base = `/api/jobs/${job.id}/export`
const SHEETS: readonly { name: string; href: string; what: string }[] = [
  {
    name: 'Pull sheet (PDF)',
    href: `${base}/sheets/pull-sheet.pdf`,
    what: 'Longest first, from which box, with room for what was measured.',
  },
  {
    name: 'Labels (PDF)',
    href: `${base}/label-sheet.pdf`,
    what: 'Each run at both ends, each unit once; the code opens what it stands on.',
  },
  { name: 'Labels (CSV)', href: `${base}/labels.csv`, what: 'The same words, for a printer of labels.' },
  {
    name: 'Mounting (PDF)',
    href: `${base}/sheets/mounting.pdf`,
    what: 'Height, face, two lengths, direction, port, in type for a ladder.',
  },
  { name: 'How ends are made (PDF)', href: `${base}/sheets/ends.pdf`, what: 'The colours of this job, drawn large.' },
  {
    name: 'Bench sheet (PDF)',
    href: `${base}/sheets/bench-sheet.pdf`,
    what: 'Every unit with room for its serial, then the run book.',
  },
  { name: 'Patches (XLSX)', href: `${base}/patches.xlsx`, what: 'Which cord from which panel port to which port.' },
  { name: 'Racks (PDF)', href: `${base}/racks.pdf`, what: 'Front and rear at scale, with their patches.' },
  { name: 'Runs (PDF)', href: `${base}/papers.pdf`, what: 'Every storey with its runs, holes and cuts.' },
  {
    name: 'Days (iCalendar)',
    href: `${base}/days.ics`,
    what: 'A day and trade an entry, loud and outdoor work marked.',
  },
  { name: 'Questions to the client (PDF)', href: `${base}/questions.pdf`, what: 'What is open, with room to answer.' },
]
</script>

<template>
  <section class="panel" aria-label="Sheets">
    <dl>
      <template v-for="sheet in SHEETS" :key="sheet.href">
        <dt>
          <a class="ink-button" :href="sheet.href" download>{{ sheet.name }}</a>
        </dt>
        <dd class="quiet">{{ sheet.what }}</dd>
      </template>
    </dl>
  </section>
</template>

<style scoped>
.panel {
  overflow: auto;
}
dl {
  display: grid;
  grid-template-columns: max-content minmax(14rem, 1fr);
  gap: 6px 14px;
  align-items: center;
  padding: 6px 12px 12px;
  margin: 0;
}
dt .ink-button {
  display: block;
  text-align: left;
}
dd {
  margin: 0;
}
</style>
