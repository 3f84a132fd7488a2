import { defineStore } from 'pinia'
import { computed, ref, shallowReactive, shallowRef } from 'vue'

import {
  api,
  take,
  type Item,
  type ItemState,
  type LessonState,
  type LessonView,
  type Schemas,
} from '@/api/client'
import { ready, rules, type Draft, type Mark, type Shown } from '@/rules/rules'
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

/** The open lesson: what is shown of it comes from the rules in this page. */
export const useLesson = defineStore('lesson', () => {
  const outbox = useOutbox()
  const view = shallowRef<LessonView | null>(null)
  const state = shallowRef<LessonState | null>(null)
  const rows = shallowRef<Schemas['LessonRow'][]>([])
  const list = shallowRef<Schemas['ChecklistList'] | null>(null)
  const brief = shallowRef<Schemas['LessonElement'][]>([])
  const liveIndex = ref(0)
  const failure = ref('')
  // Readings half entered stay with their item: looking elsewhere loses nothing.
  const drafts = shallowReactive<Record<string, Draft>>({})
  let origin = 0 // performance.now() at which the lesson opened
  let wanted = '' // the lesson that was asked for last: an older answer changes nothing
  let opened = '' // the lesson that the rules in this page hold

  function show(shown: Shown) {
    state.value = shown.state
    liveIndex.value = shown.live
  }

  async function load(id: string) {
    wanted = id
    failure.value = ''
    const loaded = ready().catch((e: unknown) => (failure.value = e instanceof Error ? e.message : String(e)))
    if (view.value?.lesson.id !== id) {
      view.value = state.value = null
      for (const item of Object.keys(drafts)) delete drafts[item]
    }
    await outbox.settle(id)
    const lesson = await take(api.GET('/api/v1/lessons/{id}', { params: { path: { id } } }))
    await loaded
    if (wanted !== id || failure.value) return
    const running = Math.max(lesson.state.durationMs + 1, Date.now() - Date.parse(lesson.lesson.openedAt))
    if (opened !== id) origin = performance.now() - Math.min(running, 6 * 24 * 3600_000)
    // What was touched while the lesson was being fetched is not in the answer yet.
    const own = outbox.waiting.filter((w) => w.lesson === id).map((w) => w.event)
    const shown = rules.open(lesson.book, [...lesson.events, ...own], outbox.device)
    opened = id
    view.value = lesson
    rows.value = shown.rows ?? []
    brief.value = shown.brief ?? []
    list.value = shown.list ?? null
    show(shown)
    if (lesson.state.seals.length) state.value = lesson.state // as it was signed
  }

  const now = () => performance.now() - origin

  /** One touch: the rules say what it means, the screen shows it, the outbox sends it. */
  function touch(mark: Mark) {
    const id = view.value!.lesson.id
    const shown = rules.touch(mark, now(), wall())
    if (!shown.events?.length) return
    if (!view.value!.state.seals.length) show(shown)
    outbox.post(id, shown.events)
  }

  async function sign(password: string) {
    const id = view.value!.lesson.id
    await outbox.settle(id)
    state.value = await take(
      api.POST('/api/v1/lessons/{id}/sign', {
        params: { path: { id } },
        body: { password, eventHash: state.value!.eventHash, event: uuidv7() },
      }),
    )
  }

  const places = computed<Place[]>(() => {
    if (!list.value || !state.value) return []
    const items = list.value.phases.flatMap((p) => p.items)
    const states = state.value.items
    const all = rows.value.map((row, i): Place => ({ ...row, item: items[i]!, state: states[i]!, mates: [] }))
    const mates = new Map<number, Place[]>()
    rows.value.forEach((row, i) => {
      const first = row.mates[0] ?? i
      if (!mates.has(first))
        mates.set(
          first,
          row.mates.map((m) => all[m]!),
        )
      all[i]!.mates = mates.get(first)!
    })
    return all
  })
  const live = computed(() => places.value[liveIndex.value])
  const closed = computed(() => !view.value?.mine || (state.value?.seals.length ?? 0) > 0)

  return { drafts, view, state, brief, failure, places, live, liveIndex, closed, load, touch, sign, now }
})
