import { defineStore } from 'pinia'
import { computed, ref, shallowReactive, shallowRef } from 'vue'

import { api, Refused, take } from '@/api/client'
import type {
  Briefing,
  DeskView,
  Draft,
  Item,
  ItemState,
  LessonEvent,
  LessonState,
  LessonView,
  Mark,
  Schemas,
  Shown,
} from '@/schema/schemas'
import { kept, type KeptSignature } from '@/device/kept'
import { signWith } from '@/device/pin'
import { reach } from '@/device/reach'
import { ready, rules } from '@/rules/rules'
import { useSession } from '@/shared/session'
import { share } from '@/shared/share'
import { useOutbox, uuidv7, wall } from './outbox'

/**
 * An item in its place, as the rules have it. Items that are worked once an
 * engine, side by side, share a row: mates are all of them, itself among them.
 */
export type Place = Omit<Schemas['LessonRow'], 'item' | 'mates'> & {
  item: Item
  state: ItemState
  mates: Place[]
}

/** How a person proves once more who they are. */
export type Again = { password?: string; pin?: string; passkey?: unknown }

/** How a lesson's clock stood on this device: its milliseconds at a wall time. */
type Clock = { ms: number; wall: number }
/** A clock that was left for longer than this is not believed. */
const clockLeft = 24 * 3600_000

/** A lesson with the events that the school has of it, and for how long it has been running. */
type Found = { lesson: LessonView; events: LessonEvent[]; running: number }

const isSealed = (lesson: LessonView) => (lesson.state?.seals.length ?? 0) > 0

/** The last sequence of each device. */
const lastOf = (events: LessonEvent[]) =>
  events.reduce(
    (last, e) => last.set(e.device, Math.max(last.get(e.device) ?? 0, e.seq)),
    new Map<string, number>(),
  )

/** The open lesson: what is shown of it comes from the rules in this page. */
export const useLesson = defineStore('lesson', () => {
  const outbox = useOutbox()
  const session = useSession()
  const view = shallowRef<LessonView | null>(null)
  /** Its events when it was shown, and what came from elsewhere since. */
  const events = shallowRef<LessonEvent[]>([])
  const state = shallowRef<LessonState | null>(null)
  const rows = shallowRef<Schemas['LessonRow'][]>([])
  const list = shallowRef<Schemas['ChecklistList'] | null>(null)
  const brief = shallowRef<Schemas['LessonElement'][]>([])
  const liveIndex = ref(0)
  const failure = ref('')
  /** The signature that was made on this device for the lesson, while it waits or when it came back. */
  const signedHere = shallowRef<KeptSignature>()
  // Readings half entered stay with their item: looking elsewhere loses nothing.
  const drafts = shallowReactive<Record<string, Draft>>({})
  let origin = 0 // performance.now() at which the lesson opened
  let wanted = '' // the lesson that was asked for last: an older answer changes nothing
  /** The lesson that was opened here last without the school, for a device that cannot keep it. */
  let made: Awaited<ReturnType<typeof onDevice>>
  let opened = '' // the lesson that the rules in this page hold
  const held = new Set<string>() // the events that they hold

  const place = (id: string): [string, string] => [outbox.owner, `lesson/${id}`]
  const clockPlace = (id: string): [string, string] => [outbox.owner, `clock/${id}`]

  function show(shown: Shown) {
    state.value = share(state.value, shown.state)
    liveIndex.value = shown.live
  }

  /** Resolves when all that was touched so far is kept and shown. */
  let moved = Promise.resolve()
  /** Shows what the rules answered once it is kept, and never before what they answered earlier. */
  function showAfter(keeping: Promise<void>, shown: Shown): Promise<void> {
    const of = opened
    const turn = Promise.all([moved, keeping]).then(() => {
      if (opened === of && view.value?.lesson.id === of && !isSealed(view.value)) show(shown)
    })
    moved = turn.catch(() => undefined)
    return turn
  }
  /** The events of a lesson that this device has, with all that was touched so far. */
  async function known(id: string) {
    await moved
    return outbox.known(id)
  }

  /** Takes a lesson into the rules of this page and shows it. */
  function begin(lesson: LessonView, all: LessonEvent[], running: number) {
    const id = lesson.lesson.id
    const shown = rules.open(lesson.book, all, outbox.device)
    held.clear()
    for (const e of all) held.add(e.id)
    events.value = all
    if (opened !== id) origin = performance.now() - Math.max(running, shown.state.durationMs + 1)
    opened = id
    view.value = lesson
    rows.value = shown.rows ?? []
    brief.value = shown.brief ?? []
    list.value = shown.list ?? null
    show(shown)
    if (isSealed(lesson)) state.value = lesson.state! // as it was signed
  }

  /**
   * Asks the school for a lesson, without what this device has of it; nothing where the
   * school has no other events than the known ones.
   */
  async function ask(id: string, here?: LessonView, known?: number): Promise<Found | undefined> {
    const all = here ? await outbox.known(id) : []
    const own = all.some((e) => e.id === here?.book.opening) ? all : []
    const have = [...lastOf(own)].map(([device, seq]) => `${device}:${seq}`)
    const params = { path: { id }, query: { known, have, kit: here?.kit.hash || undefined } }
    const answer = await take(api.GET('/api/v1/lessons/{id}', { params }))
    if (!answer) return undefined
    const { events, runningMs, kit, book, count, ...rest } = answer
    const unsent = await outbox.unsent(id)
    const joined = new Map([...own.filter((e) => !unsent.has(e.id)), ...events].map((e) => [e.id, e]))
    // One came here without one before it.
    if (own.length && joined.size < count) return ask(id)
    const lesson: LessonView = { ...rest, kit: kit ?? here!.kit, book: book ?? here!.book }
    return { lesson, events: [...joined.values()], running: runningMs }
  }

  /** A lesson as this device has it. */
  async function onDevice(id: string) {
    const found = await kept.answers.get(place(id)).catch(() => undefined)
    if (!found) return undefined
    const clock = (await kept.answers.get(clockPlace(id)))?.body as Clock | undefined
    const left = clock ? Date.now() - clock.wall : 0
    const running = clock ? clock.ms + (left > 0 && left < clockLeft ? left : 0) : 0
    const events = await known(id)
    return { lesson: found.body as LessonView, events, running }
  }

  /** Keeps a lesson on the device, its events beside its own marks. */
  async function store(lesson: LessonView, events: LessonEvent[]) {
    const [owner, at] = [outbox.owner, Date.now()]
    const id = lesson.lesson.id
    try {
      await kept.transaction('rw', kept.answers, kept.marks, async () => {
        const here = await kept.marks.where('[owner+lesson]').equals([owner, id]).primaryKeys()
        const known = new Set(here.map(([, event]) => event))
        await kept.answers.put({ owner, what: place(id)[1], at, body: lesson })
        await kept.marks.bulkPut(
          events
            .filter((e) => !known.has(e.id))
            .map((event) => ({
              owner,
              id: event.id,
              lesson: id,
              state: 'held' as const,
              event,
              reason: '',
              at,
            })),
        )
      })
    } catch {
      // A device that cannot keep says so when a mark is to be kept.
    }
  }

  /** Fetches a lesson for later, without showing it. */
  async function bring(id: string) {
    const found = (await ask(id, (await onDevice(id))?.lesson))!
    await store(found.lesson, found.events)
  }

  /** Shows a lesson: at once as the device has it, then as the school has it. */
  async function load(id: string) {
    wanted = id
    failure.value = ''
    const loaded = ready().catch((e: unknown) => (failure.value = e instanceof Error ? e.message : String(e)))
    if (view.value?.lesson.id !== id) {
      view.value = state.value = null
      for (const item of Object.keys(drafts)) delete drafts[item]
    }
    void lookAtSignature(id)
    const here = (await onDevice(id)) ?? (made?.lesson.lesson.id === id ? made : undefined)
    await loaded
    if (wanted !== id || failure.value) return
    if (here && opened !== id && !isSealed(here.lesson)) begin(here.lesson, here.events, here.running)
    try {
      await outbox.settle(id).catch(() => undefined) // what cannot be sent is shown as waiting
      const found = (await ask(id, here?.lesson))!
      if (wanted !== id) return
      await join(found)
    } catch (e) {
      const away = e instanceof Refused && (e.status === 0 || e.status >= 500)
      if (!here || (!away && e instanceof Refused && e.status !== 401)) throw e
      if (wanted === id && opened !== id) begin(here.lesson, here.events, here.running)
    }
  }

  /**
   * What the school has joins what is shown, and takes nothing that is being typed away. A
   * lesson that is not shown yet, or that was signed, is shown anew.
   */
  async function join({ lesson, events: theirs, running }: Found) {
    const id = lesson.lesson.id
    // What was touched meanwhile is not in the answer, though the school may hold it by now.
    if (opened !== id || isSealed(lesson)) begin(lesson, [...theirs, ...(await known(id))], running)
    else {
      const fresh = theirs.filter((e) => !held.has(e.id))
      for (const e of fresh) held.add(e.id)
      events.value = [...events.value, ...fresh]
      view.value = lesson
      if (fresh.length) await showAfter(Promise.resolve(), rules.add(fresh))
    }
    void store(lesson, theirs)
  }

  /** What has come from elsewhere joins what is shown: another tablet marks the same lesson. */
  async function catchUp() {
    const id = opened
    if (!id || wanted !== id || view.value?.lesson.id !== id) return
    const unsent = await outbox.unsent(id)
    const there = [...held].filter((event) => !unsent.has(event)).length
    const found = await ask(id, view.value, there)
    if (found && wanted === id && opened === id) await join(found)
  }

  /**
   * Opens a lesson: at the school where it is reached, else on this device with
   * what it knows. The id of the lesson; a refusal is thrown in words.
   */
  async function open(payload: Record<string, unknown>, desk: DeskView, briefing: Briefing): Promise<string> {
    const id = uuidv7()
    const event: LessonEvent = {
      id: uuidv7(),
      device: outbox.device,
      seq: 1,
      counter: 1,
      atMs: 0,
      wall: wall(),
      kind: 'lesson-opened',
      v: 1,
      payload,
    }
    let there = true
    try {
      await outbox.openNow(id, event)
    } catch (e) {
      if (!(e instanceof Refused) || (e.status !== 0 && e.status < 500)) throw e
      there = false
    }
    made = { lesson: alone(id, event, desk, briefing), events: [event], running: 0 }
    await store(made.lesson, there ? [event] : [])
    if (!there) await outbox.keep(id, [event])
    return id
  }

  /** A lesson that was opened here, before the school has said what it knows of it. */
  function alone(id: string, event: LessonEvent, desk: DeskView, briefing: Briefing): LessonView {
    const book = rules.book({ type: desk.type, lists: desk.lists, scales: briefing.scales }, event)
    const fresh = rules.open(book, [event], outbox.device)
    opened = ''
    const of = fresh.state.opened!
    const me = session.current!
    return {
      kit: desk.kit,
      lesson: {
        id,
        studentId: of.student,
        student: briefing.students.find((s) => s.id === of.student)?.name ?? '',
        instructorId: of.instructor,
        instructor: me.name,
        registration: of.aircraft,
        type: of.aircraftType,
        openedAt: event.wall,
        status: 'open',
        marked: 0,
        total: fresh.state.items.length,
        phases: '',
        purpose: of.purpose,
        runway: of.runway ?? '',
        wind: of.wind ?? '',
        observers: [],
      },
      book,
      scale: briefing.scales.find((s) => s.id === of.scale)!,
      before: briefing.flown[of.student] ?? 0,
      mine: true,
      marks: true,
      withheld: false,
    }
  }

  // A signature that the school has answered changes what is shown of its lesson.
  addEventListener('jetprimer-sealed', (e) => {
    const id = (e as CustomEvent<string>).detail
    if (view.value?.lesson.id !== id) return
    void lookAtSignature(id)
    catchUp().catch(() => undefined)
  })

  const now = () => performance.now() - origin

  /**
   * One touch: the rules say what it means, the device keeps it, then the screen
   * shows it; the outbox sends it. What the rules refuse is thrown at once; the
   * promise is kept when the screen has moved.
   */
  function touch(mark: Mark): Promise<void> {
    const id = view.value!.lesson.id
    const shown = rules.touch(mark, now(), wall())
    if (!shown.events?.length) return Promise.resolve()
    for (const e of shown.events) held.add(e.id)
    const turn = showAfter(outbox.keep(id, shown.events), shown)
    const clock: Clock = { ms: now(), wall: Date.now() }
    kept.answers
      .put({ owner: outbox.owner, what: clockPlace(id)[1], at: clock.wall, body: clock })
      .catch(() => undefined)
    return turn
  }

  /**
   * Signs what is shown. Where the school is not reached a PIN signs on this device: the
   * school seals it when it arrives, from just these events, or it comes back.
   */
  async function sign(again: Again) {
    const id = view.value!.lesson.id
    if (reach.away && again.pin) return signOffline(id, again.pin)
    await outbox.settle(id)
    state.value = await take(
      api.POST('/api/v1/lessons/{id}/sign', {
        params: { path: { id } },
        body: { ...again, eventHash: state.value!.eventHash, event: uuidv7() },
      }),
    )
  }

  async function signOffline(lesson: string, pin: string) {
    const [event, at, eventHash] = [uuidv7(), wall(), state.value!.eventHash]
    const words = ['jetprimer-promise', session.current!.schoolId, lesson, eventHash, event, at].join('\n')
    const signed = await signWith(outbox.owner, pin, words)
    const seen = (await known(lesson)).map((e) => e.id)
    await kept.signatures.put({
      owner: outbox.owner,
      lesson,
      eventHash,
      event,
      at,
      ...signed,
      seen,
      reason: '',
    })
    signedHere.value = await kept.signatures.get([outbox.owner, lesson])
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
  async function answer(again: Again, of: string, refused: boolean, words: string) {
    const id = view.value!.lesson.id
    state.value = await take(
      api.POST('/api/v1/lessons/{id}/answer', {
        params: { path: { id } },
        body: { ...again, of, refused, words, event: uuidv7() },
      }),
    )
  }

  /** A place is another one only when it, or one beside it, has changed. */
  const places = computed<Place[]>((before) => {
    if (!list.value || !state.value) return []
    const items = list.value.phases.flatMap((p) => p.items)
    const states = state.value.items
    const all: Place[] = []
    const same = (i: number) => before?.[i]?.item === items[i] && before?.[i]?.state === states[i]
    rows.value.forEach((row, i) => {
      if (all[i]) return
      const mates = row.mates.every(same)
        ? before![i]!.mates
        : row.mates.map((m): Place => ({ ...rows.value[m]!, item: items[m]!, state: states[m]!, mates: [] }))
      row.mates.forEach((m, n) => (all[m] = mates[n]!))
      for (const p of mates) p.mates = mates
    })
    return all
  })
  const live = computed(() => places.value[liveIndex.value])
  const closed = computed(() => !view.value?.marks || (state.value?.seals.length ?? 0) > 0)

  return {
    signedHere,
    lookAtSignature,
    dropSignature,
    drafts,
    view,
    events,
    state,
    brief,
    failure,
    places,
    live,
    liveIndex,
    closed,
    load,
    bring,
    catchUp,
    open,
    touch,
    sign,
    answer,
    now,
  }
})
