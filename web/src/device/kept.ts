// What this device keeps, in IndexedDB: the marks of lessons, what the school
// last answered, and who has signed in here. Everything belongs to one person
// at one school; nobody is shown what belongs to another.
import Dexie, { type EntityTable, type Table } from 'dexie'

import type { LessonEvent, Session } from '@/schema/schemas'

/** One mark. It waits until the school has said that it holds it. */
export type KeptMark = {
  owner: string
  id: string
  lesson: string
  state: 'waiting' | 'refused' | 'held'
  event: LessonEvent
  /** Why the school refused it. */
  reason: string
  /** When it was kept, by this device's clock. */
  at: number
}
/** What the school answered, by the address that was asked, and the answer's ETag. */
export type KeptAnswer = { owner: string; what: string; at: number; tag?: string; body: unknown }
/** Somebody who has signed in on this device. */
export type KeptPerson = {
  owner: string
  session: Session
  /** When the school last knew them here, by this device's clock. */
  seen: number
  signedIn: 0 | 1
  /** A sign-out that the school has not heard of yet. */
  leaving?: boolean
  pin?: PinProof
}
/** What tells a PIN from others, and how often it was tried in vain. */
export type PinProof = {
  salt: Uint8Array<ArrayBuffer>
  hash: Uint8Array<ArrayBuffer>
  tries: number
  /** The device's own key, wrapped with the PIN, and what the school calls it. */
  wrapped: Uint8Array<ArrayBuffer>
  iv: Uint8Array<ArrayBuffer>
  key: string
}
/** A signature made without the school: it seals just the events that were seen. */
export type KeptSignature = {
  owner: string
  lesson: string
  eventHash: string
  event: string
  at: string
  key: string
  signature: string
  /** The ids of the events that were seen. */
  seen: string[]
  /** Why it came back; empty while it waits. */
  reason: string
}

/** A picture: loose until its finding is written, then on its way. */
export type KeptPicture = {
  owner: string
  hash: string
  lesson: string
  data: ArrayBuffer
  state: 'loose' | 'waiting' | 'held'
  at: number
}

class Kept extends Dexie {
  marks!: Table<KeptMark, [string, string]>
  signatures!: Table<KeptSignature, [string, string]>
  pictures!: Table<KeptPicture, [string, string]>
  answers!: Table<KeptAnswer, [string, string]>
  people!: EntityTable<KeptPerson, 'owner'>

  constructor() {
    // Committed is what a killed browser does not lose; the disk follows.
    super('jetprimer', { chromeTransactionDurability: 'relaxed' })
    this.version(1).stores({
      marks: '[owner+id], [owner+lesson], [owner+state], state, [state+at]',
      promises: '[owner+lesson]',
      pictures: '[owner+hash], [owner+state], [state+at]',
      answers: '[owner+what], at',
      people: 'owner, signedIn',
    })
    // A lesson's kit and what only the school knows of it stood among its other parts;
    // signatures made offline had a table of another name.
    this.version(2)
      .stores({ signatures: '[owner+lesson]' })
      .upgrade(async (tx) => {
        await tx
          .table<KeptAnswer>('answers')
          .filter((a) => a.what.startsWith('lesson/'))
          .modify((a) => {
            const { times, overlaps, previous, ...rest } = a.body as Record<string, unknown>
            a.body = { ...rest, kit: { ...rest, hash: '' }, beside: { times, overlaps, previous } }
          })
        await tx.table('signatures').bulkPut(await tx.table('promises').toArray())
      })
    this.version(3).stores({ promises: null })
  }
}

export const kept = new Kept()

/** Whose things are read and written: a person at a school. */
export const ownerOf = (session: Session) => `${session.school} ${session.account}`

/** How long what is held at the school as well stays on the device. */
const heldFor = 14 * 24 * 3600_000

/** Clears away what the school holds and nobody needs here any more. */
export async function clearOld(now = Date.now()) {
  await kept.answers
    .where('at')
    .below(now - heldFor)
    .delete()
  for (const table of [kept.marks, kept.pictures])
    await table
      .where('[state+at]')
      .between(['held', Dexie.minKey], ['held', now - heldFor])
      .delete()
  await kept.pictures
    .where('[state+at]')
    .between(['loose', Dexie.minKey], ['loose', now - heldFor])
    .delete()
}

/** What kept this device from keeping something, in words. */
export function keepingFailed(e: unknown): string {
  const name = (e as { name?: string; inner?: { name?: string } } | null)?.inner?.name ?? (e as Error)?.name
  if (name === 'QuotaExceededError') return 'This device’s storage is full.'
  return 'This browser does not let the application keep anything.'
}

/** Asks the browser not to clear what is kept; says whether it agreed. */
export async function askToPersist(): Promise<boolean> {
  try {
    return (await navigator.storage.persisted()) || (await navigator.storage.persist())
  } catch {
    return false
  }
}
