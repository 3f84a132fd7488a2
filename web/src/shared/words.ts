// The words that screens share, as the rules have them, and how days and times
// are written.
import { formats, fresh, words } from '@/schema/words.gen.json'

export type Word = { id: string; words: string; state?: string; key?: string }
const by = (list: Word[]) => Object.fromEntries(list.map((w) => [w.id, w.words])) as Record<string, string>

export const marks: Word[] = words.marks
/** The marks of a maintenance run. */
export const runMarks = marks.filter((m) => words.runMarks.includes(m.id))
export const corrections: Word[] = words.corrections
export const outcomeWords = by(words.outcomes)
export const oralWords = by(words.orals)
export const decisionWords = by(words.decisions)
export const markWords = Object.fromEntries(words.marks.map((m) => [m.id, m.words.toLowerCase()]))
export const methodWords = by(words.methods)
export const classWords = by(words.classes)
export const powers: Word[] = words.powers
export const befores: Word[] = words.befores
/** How a type can be built, by the field that says so. */
export const builds: Record<string, Word[]> = words.builds
export const kindWords = by(words.kinds)
export const statusWords = by(words.statuses)
/** How a version of a document stands on a day. */
export const standingOfVersion: Record<string, string> = {
  ...statusWords,
  serving: 'in force today',
  coming: 'comes into force',
  earlier: 'an earlier version',
}
export const rankWords = by(words.ranks)
export const purposeWords = by(words.purposes)
export const severityWords = by(words.severities)
export const reasonWords = by(words.reasons)
export const roles: Word[] = words.roles
export const placeWords = by(words.places)
export const roleWords = by(words.roles)
export const standings: Word[] = words.standings
export const changeFields = words.changes
export const engineStates = words.engineStates
export const flightRules = words.rules
export { formats, fresh }

/** How a word stands: the class that colours it. */
const tones = (list: Word[]) => Object.fromEntries(list.map((w) => [w.id, tone(w.state)]))
export const tone = (state?: string) => (state === 'unjudged' || !state ? 'soft' : state)
const markTones = tones(words.marks)
export const markTone = (mark: string) => markTones[mark] ?? 'soft'
const outcomeTones = tones(words.outcomes)
export const outcomeTone = (outcome: string) => outcomeTones[outcome] ?? 'soft'
export const standingWords = by(words.standings)
const standingTones = tones(words.standings)
export const standingTone = (standing: string) => standingTones[standing] ?? 'soft'

/** The shape that stands beside a state, so that colour is never alone. */
export const shape = (state?: string) => ({ within: '●', attend: '▲', out: '■' })[state as 'within'] ?? ''

/** The shape that stands for a kind of reason or difference. */
export const reasonShape: Record<string, string> = {
  added: '+',
  changed: '≠',
  dropped: '–',
  included: '◆',
  overruled: '⊘',
  refused: '×',
  removed: '–',
  moved: '↕',
}

const months = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec']

/** 2026-11-24 as 24 Nov 2026, without the year when it is this one. */
export function dayWords(day: string): string {
  const [y, m, d] = day.split('-')
  if (!y || !m || !d) return day
  const year = y === String(new Date().getFullYear()) ? '' : ` ${y}`
  return `${Number(d)} ${months[Number(m) - 1]}${year}`
}

const weekdays = ['Sun', 'Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat']

/** 2026-11-24 as Tue 24 Nov 2026. */
export function fullDay(day: string): string {
  const [y, m, d] = day.split('-').map(Number)
  if (!y || !m || !d) return day
  return `${weekdays[new Date(Date.UTC(y, m - 1, d)).getUTCDay()]} ${d} ${months[m - 1]} ${y}`
}

const clocks = new Map<string, Intl.DateTimeFormat>()
/** A moment as the school's clock shows it, such as 13:30. */
export function timeWords(moment: string | number, zone: string): string {
  if (!clocks.has(zone))
    clocks.set(
      zone,
      new Intl.DateTimeFormat('en-GB', { timeZone: zone, hour: '2-digit', minute: '2-digit', hour12: false }),
    )
  return clocks.get(zone)!.format(new Date(moment))
}

/** The school's day at a moment, such as 2026-11-24. */
export const dayIn = (moment: string, zone: string) =>
  new Date(moment).toLocaleDateString('en-CA', { timeZone: zone })

/** 1:02:03 from milliseconds. */
export function clockWords(ms: number): string {
  const s = Math.max(0, Math.floor(ms / 1000))
  const two = (n: number) => String(n).padStart(2, '0')
  return `${two(Math.floor(s / 3600))}:${two(Math.floor(s / 60) % 60)}:${two(s % 60)}`
}

/** A moment of the past as a person says it: the time today, else the day and the time. */
export function agoWords(moment: number, zone: string, now = Date.now()): string {
  const day = dayIn(new Date(moment).toISOString(), zone)
  const time = timeWords(moment, zone)
  return day === dayIn(new Date(now).toISOString(), zone) ? time : `${dayWords(day)}, ${time}`
}

/** The time zones that this browser knows, to choose one of. */
export const zones = () => Intl.supportedValuesOf('timeZone').map((z) => [z, z.replaceAll('_', ' ')] as const)

/** So many of something, such as 1 lesson or 3 lessons. */
export const count = (n: number, what: string) => `${n} ${what}${n === 1 ? '' : 's'}`
