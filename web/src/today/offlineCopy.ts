// What goes along to the aircraft: the next lessons with everything they need,
// and what of it is on this device.
import { api, take } from '@/api/client'
import type { Briefing, Session } from '@/schema/schemas'
import { aboard } from '@/device/update'
import { askToPersist, kept, ownerOf } from '@/device/kept'
import { ready } from '@/rules/rules'

/** What is on the device, and what is missing of what the next lessons need. */
export type Copy = {
  /** When the oldest of it was fetched; 0 when there is nothing. */
  at: number
  lessons: number
  types: number
  students: number
  missing: string[]
}

/** So many students go along: those who are planned, then those flown with last. */
const studentsMost = 40

const mineNext = (briefing: Briefing, me: string) =>
  briefing.planned.filter((p) => p.instructorId === me && !p.lesson)

/** Looks at what is on the device. */
export async function lookAtCopy(session: Session): Promise<Copy> {
  const owner = ownerOf(session)
  const all = await kept.answers.where('[owner+what]').between([owner, ''], [owner, '\uffff']).toArray()
  const found = (what: string) => all.find((a) => a.what === what)
  const briefing = found('/briefing')?.body as Briefing | undefined
  const missing: string[] = []
  if (!aboard.value) missing.push('the application itself: it is not kept on this device yet')
  if (!briefing)
    return { at: 0, lessons: 0, types: 0, students: 0, missing: [...missing, 'the next lessons'] }
  const next = mineNext(briefing, session.account)
  for (const a of briefing.aircraft.filter((a, i, fleet) => fleet.findIndex((b) => b.type === a.type) === i))
    if (!found(`/desk/${a.type}`)) missing.push(`the lists and limits of the ${a.typeName}`)
  for (const p of next.filter((p, i) => next.findIndex((q) => q.studentId === p.studentId) === i))
    if (!found(`/students/${p.studentId}`)) missing.push(`the standing of ${p.student}`)
  const of = (start: string) => all.filter((a) => a.what.startsWith(start))
  const needed = [found('/briefing')!, ...of('/desk/'), ...of('/students/')]
  return {
    at: Math.min(...needed.map((a) => a.at)),
    lessons: next.length,
    types: of('/desk/').length,
    students: of('/students/').length,
    missing,
  }
}

/**
 * Fetches everything that the next lessons need; bring takes a lesson that is
 * running. Progress is told in parts of one. Throws what a person should read.
 */
export async function makeCopy(
  session: Session,
  bring: (lesson: string) => Promise<void>,
  progress: (part: number) => void,
  signal: AbortSignal,
): Promise<void> {
  const persists = askToPersist()
  const [briefing, today] = await Promise.all([
    take(api.GET('/api/v1/briefing', { signal })),
    take(api.GET('/api/v1/today', { signal })),
    take(api.GET('/api/v1/calculators', { signal })),
    take(api.GET('/api/v1/reference', { signal })),
    take(api.GET('/api/v1/guide', { signal })),
    ready('rules'),
  ])
  const students = new Set([
    ...mineNext(briefing, session.account).map((p) => p.studentId),
    ...briefing.students.map((s) => s.id),
  ])
  const running = today.running.filter((l) => l.instructorId === session.account)
  const fetches = [
    ...[...new Set(briefing.aircraft.map((a) => a.type))].map(
      (type) => () => take(api.GET('/api/v1/desk/{type}', { params: { path: { type } }, signal })),
    ),
    ...[...students].slice(0, studentsMost).map((id) => () => {
      const params = { path: { id }, query: {} }
      return take(api.GET('/api/v1/students/{id}', { params, signal }))
    }),
    ...running.map((l) => () => bring(l.id)),
    () => take(api.GET('/api/v1/stands', { signal })),
    ...[...new Set(briefing.aircraft.map((a) => a.type))].map(
      (type) => () => take(api.GET('/api/v1/stands/{type}', { params: { path: { type } }, signal })),
    ),
  ]
  for (let i = 0; i < fetches.length; i += 4) {
    progress(i / fetches.length)
    await Promise.all(fetches.slice(i, i + 4).map((fetch) => fetch()))
  }
  progress(1)
  await persists
}
