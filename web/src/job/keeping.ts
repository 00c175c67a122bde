/**
 * Waiting edits in this browser's own database: a reload, a crash or a lost connection loses none.
 * Each belongs to the window that made it; once that one is closed any other takes it over.
 */
import { openDB, type DBSchema, type IDBPDatabase } from 'idb'
import { v7 as uuid } from 'uuid'
import { inOrder, type Waiting } from '@/job/queue'

interface Kept extends DBSchema {
  waiting: { key: string; value: Waiting; indexes: { job: string } }
}

const BEFORE = 'heathrise.waiting.'
const WINDOW_LOCK = 'heathrise.window.'
export const thisWindow = uuid()

let opening: Promise<IDBPDatabase<Kept>> | undefined
function database(): Promise<IDBPDatabase<Kept>> {
  opening ??= openDB<Kept>('heathrise', 1, {
    upgrade(made) {
      made.createObjectStore('waiting', { keyPath: 'editId' }).createIndex('job', 'jobId')
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

/** Whether the edit could be kept here; storage may be full, or refused by the browser. */
export async function keep(edit: Waiting): Promise<boolean> {
  try {
    // What is proxied by the pages cannot be cloned; what is sent is plain anyway.
    await (await database()).put('waiting', JSON.parse(JSON.stringify(edit)) as Waiting)
    return true
  } catch {
    return false
  }
}

export async function drop(editId: string): Promise<void> {
  try {
    await (await database()).delete('waiting', editId)
  } catch {
    // It stays and is sent once more, which is harmless.
  }
}

/** Every waiting edit of this browser, whichever window made it. */
export async function everything(): Promise<Waiting[]> {
  try {
    return inOrder(await (await database()).getAll('waiting'))
  } catch {
    return []
  }
}

/** Take in what a release before this one left in the browser's small storage. */
async function fromBefore(): Promise<void> {
  for (const key of Object.keys(localStorage).filter((name) => name.startsWith(BEFORE))) {
    const text = localStorage.getItem(key) ?? ''
    const [jobId = '', editId = ''] = key.slice(BEFORE.length).split('.')
    try {
      const old = JSON.parse(text) as Pick<Waiting, 'label' | 'baseRevision' | 'operations'>
      const actor = localStorage.getItem('heathrise.actor') ?? editId
      const rest = { actor, way: 'edit', window: '', jobName: 'A job', seen: [], absent: [], choices: [] } as const
      if (Array.isArray(old.operations) && !(await keep({ ...old, ...rest, editId, jobId }))) continue
    } catch {
      continue
    }
    localStorage.removeItem(key)
  }
}

/** Say that this window lives, for as long as it does. */
export function live(): void {
  void navigator.locks?.request(WINDOW_LOCK + thisWindow, () => new Promise(() => {}))
}

async function living(): Promise<ReadonlySet<string>> {
  const held = (await navigator.locks?.query())?.held ?? []
  return new Set([thisWindow, ...held.map((lock) => (lock.name ?? '').replace(WINDOW_LOCK, ''))])
}

async function takenOver(ofJob: string | null): Promise<Waiting[]> {
  await fromBefore()
  const [all, alive] = [await everything(), await living()]
  const free = all.filter((edit) => (ofJob === null || edit.jobId === ofJob) && !alive.has(edit.window))
  for (const edit of free) await keep({ ...edit, window: thisWindow })
  return (await everything()).filter((edit) => edit.window === thisWindow)
}

/** Take over the edits of windows that are closed, of one job or of all; returns all that are this window's. */
export async function takeOver(ofJob: string | null = null): Promise<Waiting[]> {
  if (!navigator.locks) return takenOver(ofJob)
  return await navigator.locks.request('heathrise.taking', () => takenOver(ofJob))
}
