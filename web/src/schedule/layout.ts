// How a schedule is laid out: which lessons stand on which line and day, and where across
// a day that is drawn to scale.
import type { Schemas } from '@/schema/schemas'
import { placeOf, type Place, type Planned } from '@/schedule/moving'
import { clockAt, minutesAt, minutesOf } from '@/schedule/times'
import { dayIn } from '@/shared/words'

export type Schedule = Schemas['ScheduleView']
export type By = 'aircraft' | 'instructor' | 'student'

const wholeDay = 24 * 60
/** The hours that are always drawn of a day, in minutes. */
const always = { from: 7 * 60, to: 20 * 60 }

/** What is drawn of a day to scale, in whole hours: the usual ones and all that is planned. */
export function spanOf(planned: Planned[], zone: string) {
  const at = planned.flatMap((p) => {
    const from = minutesAt(p.startsAt, zone)
    return [from, from + minutesOf(p)]
  })
  return {
    from: Math.floor(Math.min(always.from, ...at) / 60) * 60,
    to: Math.min(wholeDay, Math.ceil(Math.max(always.to, ...at) / 60) * 60),
  }
}

/** The line that something stands on. */
export const lineOf = (by: By, p: { instructorId?: string; registration: string; studentId?: string }) =>
  ({ aircraft: p.registration, instructor: p.instructorId, student: p.studentId })[by]

/** A lesson that is being moved or was refused, and where it would be put. */
export type Held = { planned: Planned; to: Place }
export const lineOfHeld = (by: By, h: Held) =>
  lineOf(by, { ...h.planned, instructorId: h.to.instructor, registration: h.to.registration })

/** How a card is drawn: where it is, where it is taken from, where it is held or was refused. */
export type Look = '' | 'away-from' | 'held' | 'refused'
export type Card = { key: string; planned: Planned; from: number; long: number; look: Look; fixed: boolean }

function card(planned: Planned, to: Place, look: Look): Card {
  const [h, m] = to.at.split(':').map(Number)
  const fixed = look === 'held' || look === 'refused'
  return { key: look + planned.id, planned, from: h! * 60 + m!, long: to.minutes, look, fixed }
}

/** The cards of a line and day, the earliest first; ghost is one that is held, or was refused. */
export function cardsOf(
  view: Schedule,
  by: By,
  zone: string,
  line: string,
  day: string,
  ghost?: Held & { look: Look },
) {
  const out = view.planned
    .filter((p) => lineOf(by, p) === line && dayIn(p.startsAt, zone) === day)
    .map((p) => card(p, placeOf(p, zone), ghost?.planned.id === p.id ? 'away-from' : ''))
  if (ghost && lineOfHeld(by, ghost) === line && ghost.to.on === day)
    out.push(card(ghost.planned, ghost.to, ghost.look))
  return out.toSorted((a, b) => a.from - b.from)
}

/** What is away on a line and day, from and to which minute of it. */
export const awayOn = (view: Schedule, zone: string, line: string, day: string) =>
  view.away
    .filter(
      (a) =>
        (a.registration === line || a.personId === line) &&
        dayIn(a.startsAt, zone) <= day &&
        dayIn(new Date(Date.parse(a.endsAt) - 1).toISOString(), zone) >= day,
    )
    .map((a) => ({
      ...a,
      from: dayIn(a.startsAt, zone) < day ? 0 : minutesAt(a.startsAt, zone),
      to: dayIn(a.endsAt, zone) > day ? wholeDay : minutesAt(a.endsAt, zone),
    }))

const weekday = (day: string) => ((new Date(`${day}T12:00:00Z`).getUTCDay() + 6) % 7) + 1
/** The shifts of an instructor's line on a day, in words. */
export const shiftsOn = (view: Schedule, line: string, day: string) =>
  view.shifts[line]?.filter((s) => s.day === weekday(day)).map((s) => `${s.from} to ${s.to}`)

const step = 15
const shortest = 15
const longest = 480
/** Minutes as a lesson is moved by, a length that a lesson may have, and a time of a day. */
export const snapped = (minutes: number) => Math.round(minutes / step) * step
export const lengthOf = (minutes: number) => Math.min(Math.max(minutes, shortest), longest)
export const timeOf = (minutes: number) => clockAt(Math.min(Math.max(minutes, 0), wholeDay - 1))
export const stepped = (minutes: number, way: number) => minutes + way * step
