import { defineStore } from 'pinia'
import { computed, ref, shallowRef } from 'vue'

import { api, Refused, take, type LessonEvent } from '@/api/client'
import { useSession } from '@/shared/session'

/** A UUID of version 7, for a new lesson or a signature. */
export function uuidv7(now = Date.now()): string {
  const bytes = crypto.getRandomValues(new Uint8Array(16))
  for (let i = 0; i < 6; i++) bytes[i] = Math.floor(now / 2 ** (8 * (5 - i))) % 256
  bytes[6] = (bytes[6]! & 0x0f) | 0x70
  bytes[8] = (bytes[8]! & 0x3f) | 0x80
  const hex = Array.from(bytes, (b) => b.toString(16).padStart(2, '0')).join('')
  return `${hex.slice(0, 8)}-${hex.slice(8, 12)}-${hex.slice(12, 16)}-${hex.slice(16, 20)}-${hex.slice(20)}`
}

/** A mark on its way: whose it is, and of which lesson. */
type Waiting = { owner: string; lesson: string; event: LessonEvent }
type RefusedMark = Waiting & { reason: string }

/** How long the school is left alone after the n-th failure in a row, in milliseconds. */
const pause = (failures: number) => Math.min(60_000, 2000 * 2 ** Math.min(failures - 1, 5))

/**
 * The one way in which marks leave a screen. Events wait here until the school
 * has answered that it holds them; refused ones stay to be seen, with a way
 * out. They belong to the person who made them, at their school: nobody else's
 * sign-in sends them.
 */
export const useOutbox = defineStore('outbox', () => {
  const session = useSession()
  const device = `page-${uuidv7().slice(-12)}`
  const all = shallowRef<Waiting[]>([])
  const refused = shallowRef<RefusedMark[]>([])
  const trouble = ref('')
  let sending: Promise<void> | undefined
  let failures = 0
  let retry: ReturnType<typeof setTimeout> | undefined

  const owner = () => (session.current ? `${session.current.school} ${session.current.account}` : '')
  const waiting = computed(() => all.value.filter((w) => w.owner === owner()))
  /** Marks of people who have signed out: they wait for their own sign-in. */
  const others = computed(() => all.value.length - waiting.value.length)
  const own = computed(() => refused.value.filter((r) => r.owner === owner()))
  const count = (n: number) => (n === 1 ? '1 mark' : `${n} marks`)
  const words = computed(() => {
    const held = others.value ? `; ${count(others.value)} of somebody else wait for them` : ''
    if (own.value.length) return `${count(own.value.length)} refused by the school${held}`
    if (trouble.value) return `Not sent yet: ${count(waiting.value.length)} kept on this device${held}`
    return (waiting.value.length ? `sending ${waiting.value.length}` : 'all marks at the school') + held
  })

  /** Keeps events until the school holds them. */
  function post(lesson: string, events: LessonEvent[]) {
    all.value = [...all.value, ...events.map((event) => ({ owner: owner(), lesson, event }))]
    void send()
  }

  /** Sends what waits, one sender at a time. */
  function send(): Promise<void> {
    sending ??= round().finally(() => (sending = undefined))
    return sending
  }

  /** Sends every lesson's marks; one that is stuck holds no other up. */
  async function round() {
    clearTimeout(retry)
    let failed = ''
    const tried = new Set<string>()
    for (;;) {
      const next = waiting.value.find((w) => !tried.has(w.lesson))
      if (!next) break
      const batch = waiting.value.filter((w) => w.lesson === next.lesson).slice(0, 200)
      try {
        await deliver(next.lesson, batch)
      } catch (e) {
        tried.add(next.lesson)
        failed = e instanceof Error ? e.message : String(e)
      }
    }
    trouble.value = failed
    failures = failed ? failures + 1 : 0
    if (failed) retry = setTimeout(() => void send(), pause(failures))
  }

  async function deliver(lesson: string, batch: Waiting[]) {
    try {
      const { answers } = await take(
        api.POST('/api/v1/lessons/{id}/events', {
          params: { path: { id: lesson } },
          body: { events: batch.map((w) => w.event) },
        }),
      )
      settled(
        batch,
        answers.map((a) => (a.status === 'refused' ? (a.reason ?? 'the school gives no reason') : '')),
      )
    } catch (e) {
      // What the school will never take is not sent for ever.
      const final =
        e instanceof Refused && e.status >= 400 && e.status < 500 && ![401, 408, 429].includes(e.status)
      if (!final) throw e
      settled(
        batch,
        batch.map(() => e.message),
      )
    }
  }

  /** Takes answered marks out; those with a reason are refused. */
  function settled(batch: Waiting[], reasons: string[]) {
    const answered = new Set(batch.map((w) => w.event.id))
    all.value = all.value.filter((w) => !answered.has(w.event.id))
    const no = batch.flatMap((w, i) => (reasons[i] ? [{ ...w, reason: reasons[i] }] : []))
    if (no.length) refused.value = [...refused.value, ...no]
  }

  /** Sends a refused mark once more, or lets it go. */
  function again(mark: RefusedMark) {
    refused.value = refused.value.filter((r) => r !== mark)
    all.value = [...all.value, { owner: mark.owner, lesson: mark.lesson, event: mark.event }]
    void send()
  }
  const letGo = (mark: RefusedMark) => (refused.value = refused.value.filter((r) => r !== mark))

  /** Resolves when everything of a lesson is at the school; fails when it cannot be sent. */
  async function settle(lesson?: string) {
    const left = () => waiting.value.filter((w) => !lesson || w.lesson === lesson)
    if (left().length) await send()
    if (left().length) throw new Error(`${words.value}. ${trouble.value}`)
  }

  /** Opens a lesson at once or says why not; nothing is kept of a refusal. */
  async function openNow(lesson: string, payload: Record<string, unknown>) {
    const event: LessonEvent = {
      id: uuidv7(),
      device,
      seq: 1,
      counter: 1,
      atMs: 0,
      wall: wall(),
      kind: 'lesson-opened',
      v: 1,
      payload,
    }
    const { answers } = await take(
      api.POST('/api/v1/lessons/{id}/events', {
        params: { path: { id: lesson } },
        body: { events: [event] },
      }),
    )
    if (answers[0]!.status === 'refused') throw new Error(answers[0]!.reason)
  }

  return { device, waiting, others, refused: own, trouble, words, post, send, settle, openNow, again, letGo }
})

/** The device's wall time: a claim. */
export const wall = () => new Date().toISOString().replace(/\.\d+Z$/, 'Z')
