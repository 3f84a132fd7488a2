// What leaves this device for the school: marks, then the pictures and signatures that
// belong to them.
import { api, Refused, take } from '@/api/client'
import { kept, type KeptMark } from '@/device/kept'
import type { LessonEvent } from '@/schema/schemas'
import { inWords } from '@/shared/errors'

/** Whether the school will never take it. */
export const isFinal = (e: unknown): e is Refused =>
  e instanceof Refused && e.status >= 400 && e.status < 500 && ![401, 408, 429].includes(e.status)

const post = async (lesson: string, events: LessonEvent[], now?: true) =>
  (
    await take(
      api.POST('/api/v1/lessons/{id}/events', {
        params: { path: { id: lesson }, query: { now } },
        body: { events },
      }),
    )
  ).answers

/** Sends marks of one lesson; what the school says of each is settled. */
export async function sendMarks(
  batch: KeptMark[],
  settled: (marks: KeptMark[], reason: (m: KeptMark) => string) => Promise<void>,
) {
  try {
    const answers = await post(
      batch[0]!.lesson,
      batch.map((m) => m.event),
    )
    // An answer that does not speak of a mark leaves it waiting.
    const byId = new Map(answers.map((a) => [a.id, a]))
    const answered = batch.filter((m) => byId.has(m.id))
    await settled(answered, (m) => {
      const a = byId.get(m.id)!
      return a.status === 'refused' ? (a.reason ?? 'the school gives no reason') : ''
    })
    if (answered.length < batch.length) throw new Error('The school’s answer was cut short.')
  } catch (e) {
    // What the school will never take is not sent for ever.
    if (!isFinal(e)) throw e
    await settled(batch, () => e.message)
  }
}

/** Opens a lesson at once or says why not; nothing is kept of a refusal. */
export async function openNow(lesson: string, event: LessonEvent) {
  const [answer] = await post(lesson, [event], true)
  if (answer!.status === 'refused') throw new Error(answer!.reason)
}

/** Pictures follow the marks that name them; says what kept them here. */
export async function sendPictures(owner: string, stuck: Set<string>): Promise<string> {
  const all = await kept.pictures
    .where('[owner+state]')
    .equals([owner, 'waiting'])
    .toArray()
    .catch(() => [])
  let failed = ''
  for (const p of all.filter((p) => !stuck.has(p.lesson))) {
    try {
      const params = { path: { id: p.lesson, hash: p.hash } }
      const body = new Blob([p.data], { type: 'image/jpeg' }) as unknown as string
      await take(
        api.PUT('/api/v1/lessons/{id}/pictures/{hash}', {
          params,
          body,
          bodySerializer: (b) => b as unknown as BodyInit,
          headers: { 'Content-Type': 'image/jpeg' },
        }),
      )
      await kept.pictures.update([owner, p.hash], { state: 'held' })
    } catch (e) {
      failed = inWords(e)
      // What the school will never take stays here, and is not sent for ever.
      if (isFinal(e)) await kept.pictures.update([owner, p.hash], { state: 'loose' })
    }
  }
  return failed
}

/** The event that tells of a signature made here that the school has answered, with its lesson. */
export const SEALED = 'jetprimer-sealed'

/** Signatures made here follow the marks they sign; says what kept them here. */
export async function sendSignatures(owner: string, stuck: Set<string>): Promise<string> {
  const all = await kept.signatures
    .where('[owner+lesson]')
    .between([owner, ''], [owner, '\uffff'])
    .toArray()
    .catch(() => [])
  let failed = ''
  for (const p of all.filter((p) => !p.reason && !stuck.has(p.lesson))) {
    const { eventHash, event, key, at, signature } = p
    try {
      await take(
        api.POST('/api/v1/lessons/{id}/sign', {
          params: { path: { id: p.lesson } },
          body: { eventHash, event, offline: { key, at, signature } },
        }),
      )
      await kept.signatures.delete([owner, p.lesson])
    } catch (e) {
      if (!isFinal(e)) {
        failed = inWords(e)
        continue
      }
      await kept.signatures.update([owner, p.lesson], { reason: inWords(e) })
    }
    dispatchEvent(new CustomEvent(SEALED, { detail: p.lesson }))
  }
  return failed
}
