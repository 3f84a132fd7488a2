// Lessons as this device has them: what the school said of each, its events beside the
// device's own marks, and how its clock stood.
import { kept } from '@/device/kept'
import type { LessonEvent, LessonView } from '@/schema/schemas'

/** A lesson with the events that are known of it, and for how long it has been running, in milliseconds. */
export type Found = { lesson: LessonView; events: LessonEvent[]; running: number }

/** How a lesson's clock stood on this device: its milliseconds at a wall time. */
type Clock = { ms: number; wall: number }
/** A clock that was left for longer than this is not believed. */
const clockLeft = 24 * 3600_000

const place = (owner: string, id: string): [string, string] => [owner, `lesson/${id}`]
const clockPlace = (owner: string, id: string): [string, string] => [owner, `clock/${id}`]

/** A lesson, or nothing where the device does not have it. */
export async function readLesson(
  owner: string,
  id: string,
  events: () => Promise<LessonEvent[]>,
): Promise<Found | undefined> {
  const found = await kept.answers.get(place(owner, id)).catch(() => undefined)
  if (!found) return undefined
  const clock = (await kept.answers.get(clockPlace(owner, id)))?.body as Clock | undefined
  const left = clock ? Date.now() - clock.wall : 0
  const running = clock ? clock.ms + (left > 0 && left < clockLeft ? left : 0) : 0
  return { lesson: found.body as LessonView, events: await events(), running }
}

/** Keeps a lesson; a device that cannot says so when a mark is to be kept. */
export async function storeLesson(owner: string, lesson: LessonView, events: LessonEvent[]) {
  const at = Date.now()
  const id = lesson.lesson.id
  const marks = events.map((event) => {
    return { owner, id: event.id, lesson: id, state: 'held' as const, event, reason: '', at }
  })
  await kept
    .transaction('rw', kept.answers, kept.marks, async () => {
      const here = await kept.marks.where('[owner+lesson]').equals([owner, id]).primaryKeys()
      const known = new Set(here.map(([, event]) => event))
      await kept.answers.put({ owner, what: place(owner, id)[1], at, body: lesson })
      await kept.marks.bulkPut(marks.filter((m) => !known.has(m.id)))
    })
    .catch(() => undefined)
}

/** Keeps how a lesson's clock stands now. */
export async function storeClock(owner: string, id: string, ms: number) {
  const clock: Clock = { ms, wall: Date.now() }
  const what = clockPlace(owner, id)[1]
  await kept.answers.put({ owner, what, at: clock.wall, body: clock }).catch(() => undefined)
}
