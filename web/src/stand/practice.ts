// Practices of this device: begun, sent to the school, kept while it is out of reach.
import { v7 as uuid } from 'uuid'
import { api, Refused, take } from '@/api/client'
import type { PracticeRun, Schemas } from '@/schema/schemas'
import { kept } from '@/device/kept'
import { useOutbox } from '@/outbox/outbox'
import { useSession } from '@/shared/session'

export type Course = Schemas['StandView']
export type Sent = { id: string; run: PracticeRun; digest: string }

/** A stand, as the school has it or this device had it last. */
export const course = (type: string): Promise<Course> =>
  take(api.GET('/api/v1/stands/{type}', { params: { path: { type } } }))

/** What a run is, before anything of it was done. */
export function fresh(of: Course, scenario: Schemas['StandScenario'], mode: string, from = ''): PracticeRun {
  return {
    scenario,
    seed: Math.floor(Math.random() * 1e9),
    mode: mode as PracticeRun['mode'],
    student: useSession().current!.account,
    list: of.list.id,
    listVersion: of.list.version,
    began: new Date().toISOString(),
    from,
    ticks: 0,
    deeds: [],
  }
}
export const newId = uuid

/** What waits is not cleared away with what is old. */
const WAITS = 8.64e15

/** Whether another try may go better: what the school has refused for good will not. */
const comesAgain = (e: unknown) =>
  e instanceof Refused && (e.status === 0 || e.status >= 500 || [401, 403, 408, 429].includes(e.status))

/** Sends a practice; without the school it waits on this device. Whether it was taken. */
export async function send(practice: Sent): Promise<boolean> {
  const key = { owner: useOutbox().owner, what: `practice/${practice.id}` }
  try {
    const { id, ...body } = practice
    await take(api.PUT('/api/v1/practice/{id}', { params: { path: { id } }, body }))
    await kept.answers.delete([key.owner, key.what]).catch(() => undefined)
    return true
  } catch (e) {
    if (!comesAgain(e)) throw e
    await kept.answers.put({ ...key, at: WAITS, body: practice })
    return false
  }
}

/** Sends what waits on this device. How many still wait. */
export async function sendWaiting(): Promise<number> {
  const { owner } = useOutbox()
  const waiting = await kept.answers
    .where('[owner+what]')
    .between([owner, 'practice/'], [owner, 'practice/\uffff'])
    .toArray()
  let left = 0
  for (const w of waiting) if (!(await send(w.body as Sent).catch(() => true))) left++
  return left
}
