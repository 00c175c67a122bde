/** A photograph made small before it is kept: what a camera takes is larger than anybody looks at, and a device has little room. */
const LONG_SIDE_PX = 1600
const QUALITY = 0.82
const MOST_BYTES = 20_000_000

/** The photograph as a small JPEG; as it came where this browser cannot read it. Null where it is too large to keep as it came. */
export async function small(file: Blob): Promise<Blob | null> {
  try {
    const whole = await createImageBitmap(file)
    const share = Math.min(1, LONG_SIDE_PX / Math.max(whole.width, whole.height))
    const canvas = document.createElement('canvas')
    canvas.width = Math.round(whole.width * share)
    canvas.height = Math.round(whole.height * share)
    canvas.getContext('2d')?.drawImage(whole, 0, 0, canvas.width, canvas.height)
    whole.close()
    const made = await new Promise<Blob | null>((give) => canvas.toBlob(give, 'image/jpeg', QUALITY))
    if (made) return made
  } catch {
    // Of a kind this browser does not read: the server may.
  }
  return file.size <= MOST_BYTES ? file : null
}
