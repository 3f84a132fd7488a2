import { api, take } from '@/api/client'
import type { LessonEvent, LessonView } from '@/schema/schemas'
import type { Found } from './onDevice'

/** What this device has of a lesson: itself, its events, and those of them that the school has not. */
export type Here = { lesson: LessonView; events: LessonEvent[]; unsent: Set<string> }

/** The last sequence of each device. */
const lastOf = (events: LessonEvent[]) =>
  events.reduce(
    (last, e) => last.set(e.device, Math.max(last.get(e.device) ?? 0, e.seq)),
    new Map<string, number>(),
  )

/**
 * Asks the school for a lesson, without what this device has of it; nothing where the
 * school has no other events than as many as are known.
 */
export async function fetchLesson(id: string, here?: Here, known?: number): Promise<Found | undefined> {
  const own = here?.events.some((e) => e.id === here.lesson.book.opening) ? here.events : []
  const have = [...lastOf(own)].map(([device, seq]) => `${device}:${seq}`)
  const params = { path: { id }, query: { known, have, kit: here?.lesson.kit.hash || undefined } }
  const answer = await take(api.GET('/api/v1/lessons/{id}', { params }))
  if (!answer) return undefined
  const { events, runningMs, kit, book, count, ...rest } = answer
  const joined = new Map([...own.filter((e) => !here!.unsent.has(e.id)), ...events].map((e) => [e.id, e]))
  // One came here without one before it.
  if (own.length && joined.size < count) return fetchLesson(id)
  const lesson: LessonView = { ...rest, kit: kit ?? here!.lesson.kit, book: book ?? here!.lesson.book }
  return { lesson, events: [...joined.values()], running: runningMs }
}
