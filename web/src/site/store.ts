/**
 * What was written down on site, in this device's own database until the server has it; and what a phone took along.
 * Of its own, beside that of waiting edits: records are no edits and go another way.
 */
import { openDB, type DBSchema, type IDBPDatabase } from 'idb'
import { v7 as uuid } from 'uuid'
import type { FieldTaken, Record as SiteRecord } from '@/api/schema'

/** A record that waits; `refused` says why the server will not have it as it is. */
export interface Waiting {
  readonly id: string
  readonly jobId: string
  readonly record: SiteRecord
  readonly refused?: string
}

/** A photograph that waits; `refused` says why the server will not have it. */
export interface WaitingPhoto {
  readonly id: string
  readonly jobId: string
  readonly blob: Blob
  readonly refused?: string
}

/** What was taken along of a job, and when. */
export interface Pack {
  readonly jobId: string
  readonly taken: FieldTaken
  readonly at: string
}

interface Kept extends DBSchema {
  records: { key: string; value: Waiting; indexes: { job: string } }
  photos: { key: string; value: WaitingPhoto; indexes: { job: string } }
  packs: { key: string; value: Pack }
}

let opening: Promise<IDBPDatabase<Kept>> | undefined
function database(): Promise<IDBPDatabase<Kept>> {
  opening ??= openDB<Kept>('heathrise-site', 1, {
    upgrade(made) {
      made.createObjectStore('records', { keyPath: 'id' }).createIndex('job', 'jobId')
      made.createObjectStore('photos', { keyPath: 'id' }).createIndex('job', 'jobId')
      made.createObjectStore('packs', { keyPath: 'jobId' })
    },
    terminated: () => {
      opening = undefined
    },
  })
  opening.catch(() => {
    opening = undefined
  })
  return opening
}

/** Keep records, and a photograph with them, all or none. Throws where the device has no room. */
export async function keepRecords(waiting: readonly Waiting[], photo?: WaitingPhoto): Promise<void> {
  const change = (await database()).transaction(['records', 'photos'], 'readwrite')
  for (const one of waiting) void change.objectStore('records').put(JSON.parse(JSON.stringify(one)) as Waiting)
  if (photo) void change.objectStore('photos').put(photo)
  await change.done
}

/** What waits of a job, in the order it was written. */
export async function waitingOf(jobId: string): Promise<Waiting[]> {
  const found = await (await database()).getAllFromIndex('records', 'job', jobId)
  return found.sort((a, b) => (a.id < b.id ? -1 : 1))
}

export async function photosOf(jobId: string): Promise<WaitingPhoto[]> {
  return (await database()).getAllFromIndex('photos', 'job', jobId)
}

export async function dropRecords(ids: readonly string[]): Promise<void> {
  const change = (await database()).transaction('records', 'readwrite')
  for (const id of ids) void change.store.delete(id)
  await change.done
}

/** Say of a photograph why it was refused: it is not sent again and stays until somebody lets it go. */
export async function refusePhoto(photo: WaitingPhoto, why: string): Promise<void> {
  await (await database()).put('photos', { ...photo, refused: why })
}

export async function dropPhoto(id: string): Promise<void> {
  await (await database()).delete('photos', id)
}

export async function keepPack(pack: Pack): Promise<void> {
  await (await database()).put('packs', pack)
}

export async function packOf(jobId: string): Promise<Pack | undefined> {
  return (await database()).get('packs', jobId)
}

export async function packs(): Promise<Pack[]> {
  return (await database()).getAll('packs')
}

/** Whose device this is: a name of its own, given once. */
export function device(): string {
  const before = localStorage.getItem('heathrise.device')
  const name = before ?? uuid()
  if (!before) localStorage.setItem('heathrise.device', name)
  return name
}
