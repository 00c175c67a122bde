/** The files a job goes out as. */
export function exportsOf(jobId: string): { label: string; href: string }[] {
  const base = `/api/jobs/${jobId}/export`
  return [
    { label: 'kit list (CSV)', href: `${base}/kit.csv` },
    { label: 'settings (JSON)', href: `${base}/settings.json` },
    { label: 'job file (JSON)', href: `${base}/job.json` },
  ]
}
