// The shapes that the school and the rules answer, by the names that the screens use.
import type { components } from './schema.gen'

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
