import { useEventListener } from '@vueuse/core'
import { v7 as uuid } from 'uuid'
import { defineStore } from 'pinia'
import { computed, ref, shallowReactive, shallowRef } from 'vue'

import { Refused } from '@/api/client'
import { SEALED } from '@/outbox/deliveries'
import { useOutbox } from '@/outbox/outbox'
import { ready, rules } from '@/rules/rules'
import type {
  Briefing,
  DeskView,
  Draft,
  LessonEvent,
  LessonState,
  LessonView,
  List,
  Mark,
  Schemas,
  Shown,
} from '@/schema/schemas'
import { wall } from '@/shared/clock'
import { useSession } from '@/shared/session'
import { share } from '@/shared/share'
import { inWords } from '@/shared/errors'
import { fetchLesson } from './fetching'
import { readLesson, storeClock, storeLesson, type Found } from './onDevice'
import { lessonAlone, openingEvent } from './opening'
import { usePlaces } from './places'
import { useSigning, type Again } from './signing'

const isSealed = (lesson: LessonView) => (lesson.state?.seals.length ?? 0) > 0
const isAway = (e: unknown) => e instanceof Refused && (e.status === 0 || e.status >= 500)

/** The open lesson: what is shown of it comes from the rules in this page. */
export const useLesson = defineStore('lesson', () => {
  const outbox = useOutbox()
  const session = useSession()
  const view = shallowRef<LessonView | null>(null)
  /** Its events when it was shown, and what came from elsewhere since. */
  const events = shallowRef<LessonEvent[]>([])
  const state = shallowRef<LessonState | null>(null)
  const rows = shallowRef<Schemas['LessonRow'][]>([])
  const list = shallowRef<List | null>(null)
  const brief = shallowRef<Schemas['LessonElement'][]>([])
  const liveIndex = ref(0)
  const failure = ref('')
  // Readings half entered stay with their item: looking elsewhere loses nothing.
  const drafts = shallowReactive<Record<string, Draft>>({})
  const signing = useSigning(state)
  let origin = 0 // performance.now() at which the lesson opened
  let wanted = '' // the lesson that was asked for last: an older answer changes nothing
  let opened = '' // the lesson that the rules in this page hold
  const held = new Set<string>() // the events that they hold
  /** The lesson that was opened here last without the school, for a device that cannot keep it. */
  let made: Found | undefined

  const places = usePlaces(list, rows, state)
  const live = computed(() => places.value[liveIndex.value])
  const closed = computed(() => !view.value?.marks || (state.value?.seals.length ?? 0) > 0)
  const now = () => performance.now() - origin

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
  const onDevice = (id: string) => readLesson(outbox.owner, id, () => known(id))

  /** Asks the school for a lesson, without what this device has of it. */
  async function ask(id: string, lesson?: LessonView, count?: number) {
    if (!lesson) return fetchLesson(id)
    const here = { lesson, events: await outbox.known(id), unsent: await outbox.unsent(id) }
    return fetchLesson(id, here, count)
  }

  /** Takes a lesson into the rules of this page and shows it. */
  function begin({ lesson, events: all, running }: Found) {
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

  /** Fetches a lesson for later, without showing it. */
  async function bring(id: string) {
    const found = (await ask(id, (await onDevice(id))?.lesson))!
    await storeLesson(outbox.owner, found.lesson, found.events)
  }

  /** Shows a lesson: at once as the device has it, then as the school has it. */
  async function load(id: string) {
    wanted = id
    failure.value = ''
    const loaded = ready().catch((e: unknown) => (failure.value = inWords(e)))
    if (view.value?.lesson.id !== id) {
      view.value = state.value = null
      for (const item of Object.keys(drafts)) delete drafts[item]
    }
    void signing.lookAtSignature(id)
    const here = (await onDevice(id)) ?? (made?.lesson.lesson.id === id ? made : undefined)
    await loaded
    if (wanted !== id || failure.value) return
    if (here && opened !== id && !isSealed(here.lesson)) begin(here)
    try {
      await outbox.settle(id).catch(() => undefined) // what cannot be sent is shown as waiting
      const found = (await ask(id, here?.lesson))!
      if (wanted === id) await join(found)
    } catch (e) {
      if (!here || (e instanceof Refused && !isAway(e) && e.status !== 401)) throw e
      if (wanted === id && opened !== id) begin(here)
    }
  }

  /**
   * What the school has joins what is shown, and takes nothing that is being typed away. A
   * lesson that is not shown yet, or that was signed, is shown anew.
   */
  async function join(found: Found) {
    const id = found.lesson.lesson.id
    // What was touched meanwhile is not in the answer, though the school may hold it by now.
    if (opened !== id || isSealed(found.lesson))
      begin({ ...found, events: [...found.events, ...(await known(id))] })
    else {
      const fresh = found.events.filter((e) => !held.has(e.id))
      for (const e of fresh) held.add(e.id)
      events.value = [...events.value, ...fresh]
      view.value = found.lesson
      if (fresh.length) await showAfter(Promise.resolve(), rules.add(fresh))
    }
    void storeLesson(outbox.owner, found.lesson, found.events)
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
    const id = uuid()
    const event = openingEvent(outbox.device, payload)
    const there = await outbox.openNow(id, event).then(
      () => true,
      (e: unknown) => {
        if (!isAway(e)) throw e
        return false
      },
    )
    const lesson = lessonAlone(id, event, desk, briefing, session.current!)
    opened = '' // the rules hold the new one, as it is not shown yet
    made = { lesson, events: [event], running: 0 }
    await storeLesson(outbox.owner, lesson, there ? [event] : [])
    if (!there) await outbox.keep(id, [event])
    return id
  }

  // A signature that the school has answered changes what is shown of its lesson.
  useEventListener<CustomEvent<string>>(window as EventTarget, SEALED, ({ detail: id }) => {
    if (view.value?.lesson.id !== id) return
    void signing.lookAtSignature(id)
    catchUp().catch(() => undefined)
  })

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
    void storeClock(outbox.owner, id, now())
    return turn
  }

  /** Signs the lesson that is shown; the student's answer to the newest signature. */
  const sign = (again: Again) => signing.sign(view.value!.lesson.id, again)
  const answer = (again: Again, of: string, refused: boolean, words: string) =>
    signing.answer(view.value!.lesson.id, again, of, refused, words)

  return {
    signedHere: signing.signedHere,
    lookAtSignature: signing.lookAtSignature,
    dropSignature: signing.dropSignature,
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
