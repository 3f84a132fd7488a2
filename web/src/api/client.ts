import createClient from 'openapi-fetch'

import type { components, paths } from '@/api/schema.gen'
import { askSchool } from '@/device/reach'

export type Schemas = components['schemas']
export type Session = Schemas['Session']
export type Today = Schemas['Today']
export type Briefing = Schemas['Briefing']
export type LessonRow = Schemas['StoreLesson']
/** A lesson as a device has it; what only the school knows is missing until it was asked. */
export type LessonView = Omit<
  Schemas['LessonView'],
  'kit' | 'kitHash' | 'book' | 'beside' | 'events' | 'count' | 'now' | 'runningMs'
> & { kit: Schemas['Kit']; book: Schemas['LessonBook']; beside?: Schemas['Beside'] }
export type LessonState = Schemas['LessonState']
export type LessonEvent = Schemas['LessonEvent']
export type Item = Schemas['ChecklistItem']
export type ItemState = Schemas['LessonItemState']
export type Reading = Schemas['LessonReading']
export type Verdict = Schemas['CheckVerdict']
export type StudentView = Schemas['StudentView']
export type SchoolView = Schemas['SchoolView']
export type Library = Schemas['Library']
export type Version = Schemas['LibraryVersion']
export type DocumentView = Schemas['DocumentView']
export type DeskView = Schemas['DeskView']
export type List = Schemas['ChecklistList']
export type Layer = Schemas['ChecklistLayer']
export type Aid = Schemas['ChecklistAid']
export type Policy = Schemas['PolicyPolicy']
export type Pack = Schemas['StandardPack']
export type AircraftType = Schemas['AircraftType']
export type Imported = Schemas['Imported']
export type Procedure = Schemas['CatalogProcedure']
export type Calculators = Schemas['Calculators']
export type Problem = Schemas['FormProblem']
export type Flown = Schemas['ChecklistFlown']
export type Panel = Schemas['LessonPanel']
export type Mark = Schemas['LessonMark']
export type Difference = Schemas['ChecklistDifference']
export type Pair = Schemas['StandardPair']
export type Described = Schemas['Described']
export type PracticeRun = Schemas['PracticeRun']
export type PracticeDeed = Schemas['PracticeDeed']
export type StandSeen = Schemas['PracticeSeen']
export type StandGuide = Schemas['StandGuide']
export type Shown = Schemas['LessonShown']
/** What has been typed into the boxes of a reading, by the path of each. */
export type Draft = Record<string, unknown>
type Failure = Partial<Schemas['ErrorModel']>

export const api = createClient<paths>({ baseUrl: '/', fetch: askSchool })

/** A request that did not succeed, in words for a person. */
export class Refused extends Error {
  constructor(
    readonly status: number,
    readonly problem: Failure,
  ) {
    super(problem.detail ?? 'This could not be done just now.')
  }

  /** The reasons by field, such as body.password. */
  get fields(): string[] {
    return (this.problem.errors ?? []).map((e) => `${e.location?.replace('body.', '')}: ${e.message}`)
  }
}

/** Returns the data of an answer, or throws what a person should read. */
export async function take<T>(asked: Promise<{ data?: T; error?: Failure; response: Response }>): Promise<T> {
  let answer: { data?: T; error?: Failure; response: Response }
  try {
    answer = await asked
  } catch {
    throw new Refused(0, { detail: 'The school cannot be reached. What you entered is kept on this device.' })
  }
  if (answer.error !== undefined) throw new Refused(answer.response.status, answer.error)
  return answer.data as T
}

/** Sends a file's text, which no type of the API describes; gives what the school answers. */
export async function sendText(to: string, method: 'POST' | 'PUT', text: string, signal?: AbortSignal) {
  const answer = await fetch(to, { method, body: text, headers: { 'Content-Type': 'text/plain' }, signal })
  const body = (await answer.json()) as Failure & object
  if (!answer.ok) throw new Refused(answer.status, { detail: 'The file could not be read.', ...body })
  return body as object
}
