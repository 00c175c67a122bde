/** The files a job goes out as. */
export function exportsOf(jobId: string): { label: string; href: string }[] {
  const base = `/api/jobs/${jobId}/export`
  return [
    { label: 'kit list (CSV)', href: `${base}/kit.csv` },
    { label: 'kit list (XLSX)', href: `${base}/kit.xlsx` },
    { label: 'quote (PDF)', href: `${base}/quote.pdf` },
    { label: 'job file (JSON)', href: `${base}/job.json` },
  ]
}
