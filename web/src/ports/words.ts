/** A speed as it is said: 1 Gb/s, 2.5 Gb/s, 100 Mb/s. */
export function speedWords(mbps: number): string {
  return mbps >= 1000 ? `${mbps / 1000} Gb/s` : `${mbps} Mb/s`
}
