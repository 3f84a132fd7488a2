import Dexie from 'dexie'
import { defineStore } from 'pinia'
import { computed, ref, shallowRef, watch } from 'vue'

import { api, Refused, take } from '@/api/client'
import type { LessonEvent } from '@/schema/schemas'
import { tellWaiting } from '@/device/cleared'
import { kept, keepingFailed, ownerOf, type KeptMark } from '@/device/kept'
import { reach } from '@/device/reach'
import { useSession } from '@/shared/session'
import { marksWords, timeWords } from '@/shared/words'

/** A UUID of version 7, for a new lesson or a signature. */
export function uuidv7(now = Date.now()): string {
  const bytes = crypto.getRandomValues(new Uint8Array(16))
  for (let i = 0; i < 6; i++) bytes[i] = Math.floor(now / 2 ** (8 * (5 - i))) % 256
  bytes[6] = (bytes[6]! & 0x0f) | 0x70
  bytes[8] = (bytes[8]! & 0x3f) | 0x80
  const hex = Array.from(bytes, (b) => b.toString(16).padStart(2, '0')).join('')
  return `${hex.slice(0, 8)}-${hex.slice(8, 12)}-${hex.slice(12, 16)}-${hex.slice(16, 20)}-${hex.slice(20)}`
}

/** How long the school is left alone after the n-th failure in a row, in milliseconds. */
const pause = (failures: number) => Math.min(60_000, 2000 * 2 ** Math.min(failures - 1, 5))
const batchMost = 200
/** Sending and counting wait until what was touched has been painted, in milliseconds. */
const afterPaint = 120

/** Whether the school will never take it. */
const isFinal = (e: unknown): e is Refused =>
  e instanceof Refused && e.status >= 400 && e.status < 500 && ![401, 408, 429].includes(e.status)

/** The name of this page among those that mark a lesson; it survives a reload. */
function deviceName(): string {
  const name = sessionStorage.getItem('device') ?? `page-${uuidv7().slice(-12)}`
  sessionStorage.setItem('device', name)
  return name
}

/**
 * The one way in which marks leave a screen. An event is kept on the device
 * before the screen moves, and waits there until the school has answered that
 * it holds it; refused ones stay to be seen, with a way out. They belong to the
 * person who made them, at their school: nobody else's sign-in sends them. Of
 * all tabs one sends at a time.
 */
export const useOutbox = defineStore('outbox', () => {
  const session = useSession()
  const device = deviceName()
  /** How many marks of the person wait here, and since when; all of others. */
  const waiting = ref(0)
  /** Whether it has been counted what waits: until then nothing is said of it. */
  const counted = ref(false)
  const since = ref(0)
  const others = ref(0)
  const pictures = ref(0)
  const refused = shallowRef<KeptMark[]>([])
  /** Marks that this page holds and the device could not keep. */
  const unkept = shallowRef<KeptMark[]>([])
  const trouble = ref('')
  /** The session has ended: marks wait for the next sign-in. */
  const expired = ref(false)
  const storage = ref('')
  let queued: Promise<void> | undefined
  let failures = 0
  let retry: ReturnType<typeof setTimeout> | undefined

  const owner = computed(() => (session.current ? ownerOf(session.current) : ''))
  const ofState = (state: KeptMark['state']) => kept.marks.where('[owner+state]').equals([owner.value, state])

  /** Counted in one view of what is kept: marks are kept and let go meanwhile. */
  const look = () =>
    kept.transaction('r', kept.marks, kept.pictures, async () => {
      const all = await kept.marks.where('state').anyOf('waiting', 'refused').count()
      const pictured = await kept.pictures.where('[owner+state]').equals([owner.value, 'waiting']).count()
      const [own, bad] = [await ofState('waiting').count(), await ofState('refused').toArray()]
      const first = own ? await oldest() : undefined
      return { own, bad, pictured, others: all - own - bad.length, since: first?.at ?? 0 }
    })
  const oldest = async () => {
    let first: KeptMark | undefined
    await kept.marks
      .where('[state+at]')
      .between(['waiting', Dexie.minKey], ['waiting', Dexie.maxKey])
      .filter((m) => m.owner === owner.value)
      .until(() => first !== undefined)
      .each((m) => (first ??= m))
    return first as KeptMark | undefined
  }
  const mine = () => unkept.value.filter((m) => m.owner === owner.value)
  const seen = (s: Awaited<ReturnType<typeof look>>) => {
    const here = mine()
    counted.value = true
    pictures.value = s.pictured
    waiting.value = s.own + here.length
    since.value = Math.min(...[s.since, ...here.map((m) => m.at)].filter(Boolean), Infinity)
    others.value = s.others
    refused.value = s.bad
    const all = waiting.value + s.others + s.bad.length
    // Where others' wait as well, since when is theirs to know.
    tellWaiting(all, Number.isFinite(since.value) ? since.value : 0)
  }

  const words = computed(() => {
    if (!counted.value) return 'counting the marks on this device'
    const held = others.value ? `; ${marksWords(others.value)} of somebody else wait for them` : ''
    if (unkept.value.length)
      return `${storage.value} ${marksWords(unkept.value.length)} only on this page: leave it open until the school holds them`
    if (refused.value.length) return `${marksWords(refused.value.length)} refused by the school${held}`
    const from =
      Number.isFinite(since.value) && since.value
        ? ` since ${timeWords(since.value, session.current!.zone)}`
        : ''
    const too = pictures.value
      ? ` and ${pictures.value === 1 ? '1 picture' : `${pictures.value} pictures`}`
      : ''
    if ((trouble.value || reach.away) && waiting.value)
      return `Not sent yet: ${marksWords(waiting.value)}${too} kept on this device${from}${held}`
    if (trouble.value && too) return `Not sent yet:${too.slice(4)} kept on this device${held}`
    return (waiting.value ? `sending ${waiting.value}` : 'all marks at the school') + held
  })

  /**
   * Keeps events on the device until the school holds them. When it resolves
   * they are kept; where the device cannot, this page holds them and says so.
   */
  async function keep(lesson: string, events: LessonEvent[]): Promise<void> {
    const at = Date.now()
    const marks = events.map((event): KeptMark => {
      return { owner: owner.value, id: event.id, lesson, state: 'waiting', event, reason: '', at }
    })
    try {
      await kept.marks.bulkPut(marks)
      if (counted.value) waiting.value += marks.length
      if (!since.value || !Number.isFinite(since.value)) since.value = at
    } catch (e) {
      storage.value = keepingFailed(e)
      unkept.value = [...unkept.value, ...marks]
      seen(await look().catch(() => ({ own: 0, bad: [], pictured: 0, others: 0, since: 0 })))
    }
    // The screen moves first.
    setTimeout(() => void send(), afterPaint)
  }

  /** The marks of a lesson that this device has and nobody refused, in no order. */
  async function marksOf(lesson: string): Promise<KeptMark[]> {
    const found = await kept.marks
      .where('[owner+lesson]')
      .equals([owner.value, lesson])
      .toArray()
      .catch(() => [])
    return [...found.filter((m) => m.state !== 'refused'), ...mine().filter((m) => m.lesson === lesson)]
  }
  /** The ids of a lesson's marks that the school has not said it holds. */
  async function unsent(lesson: string): Promise<Set<string>> {
    const found = await kept.marks
      .where('[owner+lesson]')
      .equals([owner.value, lesson])
      .filter((m) => m.state !== 'held')
      .toArray()
      .catch(() => [])
    return new Set([...found, ...mine()].map((m) => m.id))
  }
  const known = async (lesson: string) => (await marksOf(lesson)).map((m) => m.event)

  /** Sends what waits; what comes up meanwhile is sent after. */
  function send(): Promise<void> {
    queued ??= alone().finally(() => (queued = undefined))
    return queued
  }

  const alone = async () => {
    if (navigator.locks) await navigator.locks.request('jetprimer-outbox', round)
    else await round()
  }

  /** Sends every lesson's marks; one that is stuck holds no other up. */
  async function round() {
    clearTimeout(retry)
    let failed = ''
    let ended = false
    const stuck = new Set<string>()
    for (;;) {
      const whose = owner.value
      const batch = whose ? await next(stuck) : []
      if (!batch.length || whose !== owner.value) break
      try {
        await deliver(batch)
      } catch (e) {
        stuck.add(batch[0]!.lesson)
        ended ||= e instanceof Refused && e.status === 401
        failed = e instanceof Error ? e.message : String(e)
      }
    }
    const rest = [await sendPicturesWaiting(stuck), await sendSignatures(stuck)]
    failed ||= rest.find(Boolean) ?? ''
    trouble.value = failed
    expired.value = ended
    failures = failed ? failures + 1 : 0
    if (failed) retry = setTimeout(() => void send(), pause(failures))
  }

  /** Pictures follow the marks that name them; says what kept them here. */
  async function sendPicturesWaiting(stuck: Set<string>): Promise<string> {
    const whose = owner.value
    const all = await kept.pictures
      .where('[owner+state]')
      .equals([whose, 'waiting'])
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
        await kept.pictures.update([whose, p.hash], { state: 'held' })
      } catch (e) {
        failed = e instanceof Error ? e.message : String(e)
        // What the school will never take stays here, and is not sent for ever.
        if (isFinal(e)) await kept.pictures.update([whose, p.hash], { state: 'loose' })
      }
    }
    return failed
  }

  /** Signatures made here follow the marks they sign; says what kept them here. */
  async function sendSignatures(stuck: Set<string>): Promise<string> {
    const whose = owner.value
    const all = await kept.signatures
      .where('[owner+lesson]')
      .between([whose, ''], [whose, '\uffff'])
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
        await kept.signatures.delete([whose, p.lesson])
      } catch (e) {
        const why = e instanceof Error ? e.message : String(e)
        if (!isFinal(e)) {
          failed = why
          continue
        }
        await kept.signatures.update([whose, p.lesson], { reason: why })
      }
      dispatchEvent(new CustomEvent('jetprimer-sealed', { detail: p.lesson }))
    }
    return failed
  }

  /** The oldest lesson's marks that are not stuck. */
  async function next(stuck: Set<string>): Promise<KeptMark[]> {
    const all = [
      ...(await ofState('waiting')
        .toArray()
        .catch(() => [])),
      ...mine(),
    ]
      .filter((m) => !stuck.has(m.lesson))
      .sort((a, b) => a.at - b.at || a.event.counter - b.event.counter)
    return all.filter((m) => m.lesson === all[0]!.lesson).slice(0, batchMost)
  }

  async function deliver(batch: KeptMark[]) {
    try {
      const { answers } = await take(
        api.POST('/api/v1/lessons/{id}/events', {
          params: { path: { id: batch[0]!.lesson } },
          body: { events: batch.map((m) => m.event) },
        }),
      )
      // An answer that does not speak of a mark leaves it waiting.
      const said = new Map(answers?.map((a) => [a.id, a]))
      const answered = batch.filter((m) => said.has(m.id))
      const reason = (m: KeptMark) => {
        const a = said.get(m.id)!
        return a.status === 'refused' ? (a.reason ?? 'the school gives no reason') : ''
      }
      await settled(answered, reason)
      if (answered.length < batch.length) throw new Error('The school’s answer was cut short.')
    } catch (e) {
      // What the school will never take is not sent for ever.
      if (!isFinal(e)) throw e
      await settled(batch, () => e.message)
    }
  }

  /** What the school answered: it holds a mark, or refuses it for a reason. */
  async function settled(marks: KeptMark[], reason: (m: KeptMark) => string) {
    const now = marks.map((m) => ({
      ...m,
      state: reason(m) ? ('refused' as const) : ('held' as const),
      reason: reason(m),
    }))
    const gone = new Set(marks.map((m) => m.id))
    await kept.marks.bulkPut(now).catch((e: unknown) => {
      // A device that is full still lets go of what the school has.
      storage.value = keepingFailed(e)
      return kept.marks.bulkDelete(
        now.filter((m) => m.state === 'held').map((m): [string, string] => [m.owner, m.id]),
      )
    })
    unkept.value = unkept.value.filter((m) => !gone.has(m.id))
  }

  /** Sends a refused mark once more, or lets it go. */
  async function again(mark: KeptMark) {
    await kept.marks.put({ ...mark, state: 'waiting', reason: '' })
    void send()
  }
  const letGo = (mark: KeptMark) => kept.marks.delete([mark.owner, mark.id])

  /** Resolves when everything of a lesson is at the school; fails when it cannot be sent. */
  async function settle(lesson: string) {
    const waits = async () => (await marksOf(lesson)).some((m) => m.state === 'waiting')
    if (await waits()) await send()
    // A round may have begun before the last mark was kept.
    if (await waits()) await send()
    if (await waits()) throw new Error(`${words.value}. ${trouble.value}`)
  }

  /** Opens a lesson at once or says why not; nothing is kept of a refusal. */
  async function openNow(lesson: string, event: LessonEvent) {
    const { answers } = await take(
      api.POST('/api/v1/lessons/{id}/events', {
        params: { path: { id: lesson }, query: { now: true } },
        body: { events: [event] },
      }),
    )
    if (answers[0]!.status === 'refused') throw new Error(answers[0]!.reason)
  }

  /** What waits is told as it changes, in whichever tab, once what was touched is painted. */
  let looking: ReturnType<typeof setTimeout> | undefined
  function lookSoon() {
    clearTimeout(looking)
    looking = setTimeout(() => {
      look()
        .then(seen)
        .catch((e: unknown) => (storage.value = keepingFailed(e)))
    }, afterPaint)
  }
  Dexie.on('storagemutated', lookSoon)
  watch(
    owner,
    () => {
      void look().then(seen, lookSoon)
      void send()
    },
    { immediate: true },
  )
  addEventListener('online', () => void send())

  return {
    device,
    owner,
    waiting,
    counted,
    others,
    refused,
    trouble,
    expired,
    storage,
    words,
    keep,
    known,
    unsent,
    send,
    settle,
    openNow,
    again,
    letGo,
  }
})

/** The device's wall time: a claim. */
export const wall = () => new Date().toISOString().replace(/\.\d+Z$/, 'Z')
