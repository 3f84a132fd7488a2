import { defineStore } from 'pinia'
import { computed, ref, shallowRef } from 'vue'

import {
  api,
  take,
  type CheckDefinition,
  type Item,
  type ItemState,
  type LessonEvent,
  type LessonState,
  type LessonView,
} from '../api/client'
import { rules } from '../rules/rules'
import type { Draft } from '../parts/reading'
import { useOutbox, uuidv7, type Mark } from './outbox'

/**
 * An item in its place. Items that are worked once an engine, side by side,
 * share a row: mates are all of them, itself among them.
 */
export type Place = {
  item: Item
  phase: number
  number: string
  state: ItemState
  /** The challenge without the engine's name. */
  challenge: string
  /** The engine's name, such as left; empty where the item is for all. */
  engine: string
  mates: Place[]
}

/** The open lesson: its state comes from the rules in this browser. */
export const useLesson = defineStore('lesson', () => {
  const outbox = useOutbox()
  const view = shallowRef<LessonView | null>(null)
  const state = shallowRef<LessonState | null>(null)
  const checks = shallowRef<CheckDefinition[]>([])
  const failure = ref('')
  const counter = ref(0)
  // Readings half entered stay with their item: looking elsewhere loses nothing.
  const drafts = ref<Record<string, Draft>>({})
  let origin = 0 // performance.now() at which the lesson opened
  let applying: Promise<unknown> = Promise.resolve()

  // What was touched while a lesson is being fetched: the answer may not hold it yet.
  let meanwhile: LessonEvent[] = []

  async function load(id: string) {
    await outbox.settle()
    meanwhile = []
    const [lesson, definitions] = await Promise.all([
      take(api.GET('/api/v1/lessons/{id}', { params: { path: { id } } })),
      take(api.GET('/api/v1/checks')),
    ])
    const own = view.value?.lesson.id === id ? meanwhile : []
    if (view.value?.lesson.id !== id) drafts.value = {}
    view.value = lesson
    checks.value = definitions
    if (!own.length) state.value = lesson.state
    counter.value = Math.max(0, ...[...lesson.events, ...own].map((e) => e.counter))
    const running = Math.max(lesson.state.durationMs + 1, Date.now() - Date.parse(lesson.lesson.openedAt))
    origin = performance.now() - Math.min(running, 6 * 24 * 3600_000)
    applying = rules.open(lesson.book, [...lesson.events, ...own]).then((answer) => {
      if (!answer.state.seals.length) state.value = answer.state
    })
    applying.catch((e: unknown) => (failure.value = `The rules could not be loaded: ${String(e)}`))
  }

  const now = () => performance.now() - origin

  /** One touch: its marks become events, the rules answer, the outbox sends. */
  async function touch(marks: Mark[]) {
    if (!view.value) return
    const id = view.value.lesson.id
    const events = outbox.make(id, marks, counter.value, now())
    counter.value += events.length
    meanwhile.push(...events)
    outbox.post(id, events)
    applying = applying.then(async () => {
      const answer = await rules.apply(events)
      state.value = answer.state
    })
    await applying
  }

  async function undo() {
    const targets = state.value?.lastTouch ?? []
    if (targets.length) await touch([{ kind: 'undo', payload: { targets } }])
  }

  async function sign(password: string) {
    await applying
    await outbox.settle()
    const id = view.value!.lesson.id
    state.value = await take(
      api.POST('/api/v1/lessons/{id}/sign', {
        params: { path: { id } },
        body: { password, eventHash: state.value!.eventHash, event: uuidv7() },
      }),
    )
  }

  const places = computed<Place[]>(() => {
    if (!view.value || !state.value) return []
    const states = state.value.items
    let at = 0
    const names = view.value.book.type.engineNames ?? []
    return view.value.book.list.phases.flatMap((phase, p) => {
      let row = 0
      let mates: Place[] = []
      return phase.items.map((item) => {
        const beside = item.per === 'each' && item.of && mates[0]?.item.of === item.of
        if (!beside) {
          row++
          mates = []
        }
        const engine = item.engine ? (names[item.engine - 1] ?? `engine ${item.engine}`) : ''
        const challenge = engine ? item.challenge.replace(`, ${engine}`, '') : item.challenge
        const place = {
          item,
          phase: p,
          number: `${p + 1}.${row}`,
          state: states[at++]!,
          challenge,
          engine,
          mates,
        }
        mates.push(place)
        return place
      })
    })
  })
  const liveIndex = computed(() => {
    const opened = places.value.findIndex((p) => p.item.id === state.value?.live)
    if (opened >= 0) return opened
    const unmarked = places.value.findIndex((p) => !p.state.status)
    return Math.max(0, unmarked)
  })
  const live = computed(() => places.value[liveIndex.value])
  const closed = computed(() => !view.value?.mine || (state.value?.seals.length ?? 0) > 0)

  return {
    drafts,
    view,
    state,
    checks,
    failure,
    places,
    live,
    liveIndex,
    closed,
    load,
    touch,
    undo,
    sign,
    now,
  }
})
