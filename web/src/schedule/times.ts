// Days and times of day as the schedule draws them.
import { timeWords } from '@/shared/words'

const date = (day: string) => new Date(`${day}T12:00:00Z`)

/** The day that lies so many days after another. */
export function addDays(day: string, n: number): string {
  const at = date(day)
  at.setUTCDate(at.getUTCDate() + n)
  return at.toISOString().slice(0, 10)
}

/** The Monday of a day's week. */
export const mondayOf = (day: string) => addDays(day, -((date(day).getUTCDay() + 6) % 7))

/** The number of a day's week (ISO 8601). */
export function weekOf(day: string): number {
  const thursday = addDays(mondayOf(day), 3)
  const first = Date.UTC(Number(thursday.slice(0, 4)), 0, 1)
  return 1 + Math.floor((date(thursday).getTime() - first) / (7 * 86_400_000))
}

/** Minutes of the school's day at a moment. */
export function minutesAt(moment: string, zone: string): number {
  const [h, m] = timeWords(moment, zone).split(':').map(Number)
  return h! * 60 + m!
}

/** 810 as 13:30. */
export const clockAt = (minutes: number) =>
  `${String(Math.floor(minutes / 60)).padStart(2, '0')}:${String(minutes % 60).padStart(2, '0')}`

/** How long something is, in minutes. */
export const minutesOf = (of: { startsAt: string; endsAt: string }) =>
  Math.round((Date.parse(of.endsAt) - Date.parse(of.startsAt)) / 60_000)
