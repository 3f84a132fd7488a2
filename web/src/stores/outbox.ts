import { defineStore } from 'pinia'
import { computed, ref } from 'vue'

import { api, Refused, take, type LessonEvent } from '../api/client'

/** A UUID of version 7: milliseconds first, so that ids sort by time. */
export function uuidv7(now = Date.now()): string {
  const bytes = crypto.getRandomValues(new Uint8Array(16))
  for (let i = 0; i < 6; i++) bytes[i] = Math.floor(now / 2 ** (8 * (5 - i))) % 256
  bytes[6] = (bytes[6]! & 0x0f) | 0x70
  bytes[8] = (bytes[8]! & 0x3f) | 0x80
  const hex = Array.from(bytes, (b) => b.toString(16).padStart(2, '0')).join('')
  return `${hex.slice(0, 8)}-${hex.slice(8, 12)}-${hex.slice(12, 16)}-${hex.slice(16, 20)}-${hex.slice(20)}`
}

/** What a screen wants to have happened. */
export type Mark = { kind: string; payload: Record<string, unknown> }

/**
 * The one way in which marks leave a screen. Events wait here until the school
 * has answered that it holds them; refused ones stay to be seen.
 */
export const useOutbox = defineStore('outbox', () => {
  const device = `page-${uuidv7().slice(-12)}`
  const seqs = new Map<string, number>()
  const waiting = ref<{ lesson: string; event: LessonEvent }[]>([])
  const refused = ref<{ event: LessonEvent; reason: string }[]>([])
  const trouble = ref('')
  let sending = false
  let retry: ReturnType<typeof setTimeout> | undefined

  const words = computed(() => {
    if (refused.value.length) return `${refused.value.length} marks refused by the school`
    if (trouble.value) return `Not sent yet: ${waiting.value.length} marks kept on this device`
    return waiting.value.length ? `sending ${waiting.value.length}` : 'all marks at the school'
  })

  /** Makes the events of one touch; they share a moment and can be undone together. */
  function make(lesson: string, marks: Mark[], counter: number, atMs: number): LessonEvent[] {
    return marks.map(({ kind, payload }, i) => {
      const seq = (seqs.get(lesson) ?? 0) + 1
      seqs.set(lesson, seq)
      return {
        id: uuidv7(),
        device,
        seq,
        counter: counter + i + 1,
        atMs: Math.round(atMs),
        wall: new Date().toISOString().replace(/\.\d+Z$/, 'Z'),
        kind,
        v: 1,
        payload,
      }
    })
  }

  /** Keeps events until the school holds them. */
  function post(lesson: string, events: LessonEvent[]) {
    waiting.value.push(...events.map((event) => ({ lesson, event })))
    void send()
  }

  async function send() {
    if (sending) return
    sending = true
    clearTimeout(retry)
    try {
      while (waiting.value.length) {
        const lesson = waiting.value[0]!.lesson
        const batch = waiting.value.filter((w) => w.lesson === lesson).slice(0, 200)
        await deliver(
          lesson,
          batch.map((w) => w.event),
        )
      }
      trouble.value = ''
    } catch (e) {
      trouble.value = e instanceof Refused ? e.message : String(e)
      retry = setTimeout(() => void send(), 4000)
    } finally {
      sending = false
    }
  }

  async function deliver(lesson: string, events: LessonEvent[]) {
    const { answers } = await take(
      api.POST('/api/v1/lessons/{id}/events', { params: { path: { id: lesson } }, body: { events } }),
    )
    answers.forEach((answer, i) => {
      if (answer.status === 'refused') refused.value.push({ event: events[i]!, reason: answer.reason ?? '' })
    })
    const answered = new Set(events.map((e) => e.id))
    waiting.value = waiting.value.filter((w) => !answered.has(w.event.id))
  }

  /** Resolves when everything is at the school; fails when it cannot be sent. */
  async function settle() {
    for (let i = 0; i < 100 && (sending || waiting.value.length); i++) {
      if (!sending) await send()
      if (trouble.value) throw new Error(words.value + '. ' + trouble.value)
      await new Promise((resolve) => setTimeout(resolve, 50))
    }
  }

  /** Opens a lesson at once or says why not; nothing is kept of a refusal. */
  async function openNow(lesson: string, marks: Mark[]) {
    await deliver(lesson, make(lesson, marks, 0, 0))
    const first = refused.value.shift()
    if (first) throw new Error(first.reason)
  }

  return { device, waiting, refused, trouble, words, make, post, send, settle, openNow }
})
