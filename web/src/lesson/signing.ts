import { v7 as uuid } from 'uuid'
import { shallowRef, type Ref } from 'vue'

import { api, take } from '@/api/client'
import { kept, type KeptSignature } from '@/device/kept'
import { signWith } from '@/device/pin'
import { reach } from '@/device/reach'
import { useOutbox } from '@/outbox/outbox'
import type { LessonState } from '@/schema/schemas'
import { wall } from '@/shared/clock'
import { useSession } from '@/shared/session'

/** How a person proves once more who they are. */
export type Again = { password?: string; pin?: string; passkey?: unknown }

/** What is signed where the school is not reached; the school puts the same lines together. */
const offlineText = (of: { school: string; lesson: string; eventHash: string; event: string; at: string }) =>
  ['jetprimer-promise', of.school, of.lesson, of.eventHash, of.event, of.at].join('\n')

/** Signs the lesson that is shown, and keeps what became of a signature made on this device. */
export function useSigning(state: Ref<LessonState | null>) {
  const outbox = useOutbox()
  const session = useSession()
  /** The signature that was made here for the lesson, while it waits or when it came back. */
  const signedHere = shallowRef<KeptSignature>()

  /**
   * Signs what is shown. Where the school is not reached a PIN signs on this device: the
   * school seals it when it arrives, from just these events, or it comes back.
   */
  async function sign(id: string, again: Again) {
    if (reach.away && again.pin) return signOffline(id, again.pin)
    await outbox.settle(id)
    const body = { ...again, eventHash: state.value!.eventHash, event: uuid() }
    state.value = await take(api.POST('/api/v1/lessons/{id}/sign', { params: { path: { id } }, body }))
  }

  async function signOffline(lesson: string, pin: string) {
    const of = { lesson, event: uuid(), at: wall(), eventHash: state.value!.eventHash }
    const text = offlineText({ ...of, school: session.current!.schoolId })
    const { key, signature } = await signWith(outbox.owner, pin, text)
    const seen = (await outbox.known(lesson)).map((e) => e.id)
    await kept.signatures.put({ ...of, owner: outbox.owner, key, signature, seen, reason: '' })
    await lookAtSignature(lesson)
    void outbox.send()
  }

  /** What has become of a signature made here; what came since, where it came back. */
  async function lookAtSignature(id: string) {
    signedHere.value = await kept.signatures.get([outbox.owner, id]).catch(() => undefined)
  }
  async function dropSignature() {
    if (signedHere.value) await kept.signatures.delete([signedHere.value.owner, signedHere.value.lesson])
    signedHere.value = undefined
  }

  /** The student's answer to the newest signature. */
  async function answer(id: string, again: Again, of: string, refused: boolean, words: string) {
    const body = { ...again, of, refused, words, event: uuid() }
    state.value = await take(api.POST('/api/v1/lessons/{id}/answer', { params: { path: { id } }, body }))
  }

  return { signedHere, sign, lookAtSignature, dropSignature, answer }
}
