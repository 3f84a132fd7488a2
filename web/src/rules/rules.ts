import './wasm_exec.js'

import type { LessonEvent, LessonState, LessonView, Schemas, Verdict } from '@/api/client'
import { start, type Module, type Rules } from './start'

export type Problem = Schemas['FormProblem']
export type Flown = Schemas['ChecklistFlown']
export type Panel = Schemas['LessonPanel']
export type Mark = Schemas['LessonMark']
export type Draft = Record<string, unknown>
export type Difference = {
  kind: 'added' | 'removed' | 'moved' | 'changed'
  phase: string
  item: string
  challenge: string
  field?: string
  before?: unknown
  after?: unknown
}
/** A line of two editions of a standards pack read side by side. */
export type Pair = {
  task: string
  how: 'same' | 'changed' | 'became' | 'gone' | 'new'
  before?: Schemas['StandardElement']
  after?: Schemas['StandardElement']
  fields?: ('code' | 'kind' | 'text' | 'classes')[]
  why?: string
  says: string
}
/** A type being described, with readings of each judged check to drag. */
export type Described = Schemas['HandbookSheet'] & {
  examples: Record<string, { reading: Record<string, unknown>; conditions: Record<string, unknown> }>
}
/** How much of a list was observed, and how. */
export type LessonSeen = {
  items: number
  observed: number
  marked: number
  passed: number
  unread: number
  words: string
}
export type PracticeRun = Schemas['PracticeRun']
export type PracticeDeed = Schemas['PracticeDeed']
/** What a practice stand shows, in the order of the panel: gauges, which of them are out of their band, lamps. */
export type StandSeen = {
  seconds: number
  values: number[]
  beyond: boolean[]
  lamps: boolean[]
  /** Where each control stands. */
  stands: number[]
  sound: { hz: number; loud: number; rough: number }
  person: boolean
  aircraft: boolean
  windKt: number
  rollsKt: number
  /** Counts on whenever there is something else to be shown of the lesson. */
  turns: number
}
/** What is to be done next on a stand, and how the lesson stands. */
export type StandGuide = {
  item: string
  number: string
  challenge: string
  response: string
  why: string
  look?: string
  caution?: string
  controls: string[]
  measured: boolean
  kept: boolean
  call: string
  callWords: string
  told?: string
  place: number
  of: number
  asked?: Schemas['PracticeQuestion']
  state: LessonState
}
/** What a lesson is drawn from; rows, brief and list come when it is opened. */
export type Shown = {
  answers?: { id: string; status: string; reason?: string }[]
  events?: LessonEvent[]
  state: LessonState
  live: number
  counter: number
  rows?: Schemas['LessonRow'][]
  brief?: Schemas['LessonElement'][]
  list?: Schemas['ChecklistList']
}

/** What the rules refuse, and the field it stands in. */
export class RuleError extends Error {
  constructor(
    message: string,
    readonly field: string,
    /** What is wrong with the field, to be read after its name. */
    readonly reason: string,
  ) {
    super(message)
  }

  /** The refusal as a sentence, its field by the name that the screen gives it. */
  said(names: Record<string, string>): string {
    return `${names[this.field] ?? this.field} ${this.reason}.`
  }
}

type Answer<T> = { ok?: T; error?: string; field?: string; reason?: string }
function taken<T>(text: string): T {
  const answer = JSON.parse(text) as Answer<T>
  if (answer.error !== undefined)
    throw new RuleError(answer.error, answer.field ?? '', answer.reason ?? answer.error)
  return answer.ok as T
}

let worker: Worker | undefined
let next = 0
type Posted = { id: number; module?: WebAssembly.Module; answer?: string; failure?: string }
const waiting = new Map<number, (answer: Posted) => void>()

function post(asked: { module: Module } | { name: string; args: string[] }): Promise<Posted> {
  if (!worker) {
    worker = new Worker(new URL('./worker.ts', import.meta.url), { type: 'module' })
    worker.onmessage = (message: MessageEvent<Posted>) => {
      waiting.get(message.data.id)?.(message.data)
      waiting.delete(message.data.id)
    }
  }
  const id = ++next
  return new Promise((resolve, reject) => {
    waiting.set(id, (answer) => (answer.failure ? reject(new Error(answer.failure)) : resolve(answer)))
    worker!.postMessage({ id, ...asked })
  })
}

/** The rules that run in this page: a lesson's, and once a place needs them all of them. */
const here: Partial<Record<Module, Rules>> = {}
const loading: Partial<Record<Module, Promise<void>>> = {}
let units: Schemas['QuantityUnits'] = {}

/** Numbers are typed and shown in these units from now on. */
export function readIn(chosen: Schemas['QuantityUnits']) {
  units = chosen
  for (const run of Object.values(here)) taken(run.units!(text(units)))
}

/**
 * Resolves once the rules of a lesson run in this page, or all of them. A load that failed
 * is tried again when asked again.
 */
export function ready(module: Module = 'lesson'): Promise<void> {
  loading[module] ??= post({ module })
    .then(async (answer) => {
      const run = await start(answer.module!)
      taken(run.units!(text(units)))
      here[module] = run
    })
    .catch((e: unknown) => {
      delete loading[module]
      throw new Error(`The rules could not be loaded: ${e instanceof Error ? e.message : String(e)}`)
    })
  return loading[module]
}

/** Asks the rules in this page, at once: a lesson's where they know it. */
function ask<T>(name: string, ...args: string[]): T {
  const of = here.lesson?.[name] ?? here.rules?.[name]
  if (!of) throw new Error('The rules are not loaded yet.')
  return taken<T>(of(...args))
}

/** Asks the worker's rules, for what takes long. */
async function askLong<T>(name: string, ...args: string[]): Promise<T> {
  await post({ name: 'units', args: [text(units)] })
  return taken<T>((await post({ name, args })).answer!)
}
const text = (v: unknown) => (v === undefined || v === null ? '' : JSON.stringify(v))

/** The rules of the job, running in this browser. What is synchronous needs ready(). */
export const rules = {
  /** A sentence with its numbers in the units that the person reads. */
  say: (sentence: string) => ask<string>('say', text(sentence)),
  /** What the day's sheet begins with. */
  fresh: () => ask<Schemas['CalcTypedDay']>('fresh'),
  /** The limits of each of a type's checks. */
  limits: (type: Schemas['AircraftType']) => ask<Schemas['CheckLimits'][]>('limits', text(type)),
  /** What a lesson is folded against, from what serves its type and the event that opens it. */
  book: (
    desk: {
      type: Schemas['AircraftType']
      lists: Schemas['ChecklistList'][]
      scales: Schemas['LessonScale'][]
    },
    event: LessonEvent,
  ) => ask<LessonView['book']>('book', text(desk), text(event)),
  open: (book: LessonView['book'], events: LessonEvent[], device: string) =>
    ask<Shown>('open', text(book), text(events), text(device)),
  add: (events: LessonEvent[]) => ask<Shown>('add', text(events)),
  /** What a touch means: its events, and the lesson with them. */
  touch: (mark: Mark, atMs: number, wall: string) =>
    ask<Shown>('touch', text(mark), String(Math.max(0, Math.round(atMs))), text(wall)),
  /** The instrument of a measured item; with a draft, as it is being filled. */
  panel: (item: string, draft?: Draft) => ask<Panel>('panel', text(item), text(draft)),
  /** How so many seconds of a timer at an item stand. */
  timer: (id: string, item: string, seconds: number) =>
    ask<Schemas['LessonTimed']>('timer', text(id), text(item), String(seconds)),
  /** The things to fix next time, with how items went in the lessons before. */
  seen: () => ask<LessonSeen>('seen'),
  fixes: (before?: Record<string, Schemas['LessonTally']>) =>
    ask<Schemas['LessonFix'][]>('fixes', text(before)),
  /** The lesson laid out in time, as it stood at a moment, and one of its readings on its scales. */
  strip: () => ask<Schemas['LessonStrip']>('strip'),
  /** The level that each phase shows. */
  phases: () => ask<Record<string, number>>('phases'),
  at: (ms: number) => ask<{ state: LessonState; day: string; seen: string }>('at', String(Math.round(ms))),
  shown: (reading: string) => ask<Schemas['CheckInstrument']>('shown', text(reading)),
  /** What an exported record is found to be; a refusal says what differs. */
  verify: (file: string) =>
    ask<Schemas['RecordFound'] & { line: string; strip: Schemas['LessonStrip'] }>('verify', text(file)),
  /** Judges a reading by the type given. */
  check: (name: string, request: object, type: Schemas['AircraftType']) =>
    ask<Verdict>('check', name, text(request), text(type)),
  /** The instrument of a reading to drag. */
  show: (
    name: string,
    type: Schemas['AircraftType'],
    reading: object,
    sound: object,
    conditions: object,
    attempt: number,
  ) =>
    ask<Schemas['CheckReference']>(
      'show',
      text(name),
      text(type),
      text(reading),
      text(sound),
      text(conditions),
      String(attempt),
    ),
  /** A type as it is described so far, and how it differs from what it is compared with. */
  sheet: (type: Schemas['AircraftType'], older?: Schemas['AircraftType'] | null) =>
    ask<Described>('sheet', text(type), text(older)),
  /** The type with one of its numbers typed, named by its page, left out. */
  number: (type: Schemas['AircraftType'], edit: Schemas['HandbookEdit']) =>
    ask<Schemas['AircraftType']>('number', text(type), text(edit)),
  /** The type with a check among its own, or left off. */
  ask: (type: Schemas['AircraftType'], check: string, asked: boolean) =>
    ask<Schemas['AircraftType']>('ask', text(type), text(check), text(asked)),
  /** The type with winds, fuel, prime or power begun, or without it. */
  have: (type: Schemas['AircraftType'], part: string, has: boolean) =>
    ask<Schemas['AircraftType']>('have', text(type), text(part), text(has)),
  /** Which elements of some packs the items of a list show, and what shows none. */
  coverage: (
    packs: Schemas['StandardPack'][],
    list: Schemas['ChecklistList'],
    type: Schemas['AircraftType']['class'],
  ) => ask<Schemas['ChecklistCoverage']>('coverage', text(packs), text(list), text(type)),
  /** The list with an element among those that an item shows, or without it. */
  link: (list: Schemas['ChecklistList'], item: string, element: string, on: boolean) =>
    ask<Schemas['ChecklistList']>('link', text(list), text(item), text(element), text(on)),
  /** Two editions of a pack side by side. */
  beside: (before: Schemas['StandardPack'], after: Schemas['StandardPack']) =>
    ask<Pair[]>('beside', text(before), text(after)),
  packProblems: (pack: Schemas['StandardPack']) => ask<Problem[] | null>('packProblems', text(pack)),
  /** A policy question by question, beside what it is compared with. */
  decisions: (
    policy: Schemas['PolicyPolicy'],
    older: Schemas['PolicyPolicy'] | null,
    known: Schemas['PolicyKnown'],
  ) => ask<Schemas['PolicySheet']>('decisions', text(policy), text(older), text(known)),
  /** The policy with one decision made. */
  decide: (policy: Schemas['PolicyPolicy'], edit: Schemas['PolicyEdit'], known: Schemas['PolicyKnown']) =>
    ask<Schemas['PolicyPolicy']>('decide', text(policy), text(edit), text(known)),
  /** The day on one sheet. */
  day: (
    typed: Schemas['CalcTypedDay'],
    type: Schemas['AircraftType'],
    equipment: string[],
    field: Schemas['WeatherAerodrome'],
    icing: Schemas['CalcIcingBand'][],
  ) => ask<Schemas['CalcSheet']>('day', text(typed), text(type), text(equipment), text(field), text(icing)),
  /** A weather report as the boxes of a day take it. */
  report: (report: string, place: Schemas['WeatherAerodrome'] | undefined) =>
    ask<Schemas['ChecklistReported']>('report', text(report), text(place)),
  /** The list as flown that a choice makes, and what the opening event carries. */
  choose: (choice: Schemas['LessonChoice']) => ask<Flown>('choose', text(choice)),
  opened: (choice: Schemas['LessonChoice']) => ask<Record<string, unknown>>('opened', text(choice)),
  slug: (words: string) => ask<string>('slug', text(words)),

  /** A practice, begun; one at a time runs in this page. */
  standBegin: (course: Schemas['StandView'], run: PracticeRun) =>
    ask<{ panel: Schemas['StandPanel']; rows: Schemas['LessonRow'][] } & StandSeen>(
      'standBegin',
      text(course),
      text(run),
    ),
  /** A scenario made up for a difficulty. */
  standMake: (course: Schemas['StandView'], difficulty: number, seed: number) =>
    ask<Schemas['StandScenario']>('standMake', text(course), String(difficulty), String(seed)),
  /** Opens a run at a second of it, to be looked at from there on. */
  standWatch: (course: Schemas['StandView'], run: PracticeRun, second: number) =>
    ask<StandSeen>('standWatch', text(course), text(run), String(second)),
  /** What the gauges of a run showed, second by second. */
  standTrace: (course: Schemas['StandView'], run: PracticeRun) =>
    askLong<string[][]>('standTrace', text(course), text(run)),
  standDo: (deed: Omit<PracticeDeed, 'tick'>) => ask<null>('standDo', text({ tick: 0, ...deed })),
  /** What somebody else did, to be done at its moment. */
  standFeed: (deeds: PracticeDeed[]) => ask<null>('standFeed', text(deeds)),
  standStep: (ticks: number) => ask<StandSeen>('standStep', String(ticks)),
  /** As it was at a second: what was done later is as if it had not been. */
  standBack: (second: number) => ask<StandSeen>('standBack', String(second)),
  standNext: () => ask<StandGuide>('standNext'),
  standPanel: (item: string, draft?: Draft) => ask<Panel>('standPanel', text(item), text(draft)),
  standRead: (item: string, path: string, unit: string) =>
    ask<string>('standRead', text(item), text(path), text(unit)),
  standDecide: (decision: string, why: string) =>
    ask<{ run: PracticeRun; score: Schemas['PracticeScore']; digest: string }>(
      'standDecide',
      text(decision),
      text(why),
    ),
  /** The run so far, with its deeds from a place on. */
  standRun: (from: number) => ask<PracticeRun>('standRun', String(from)),

  tailor: (of: object, day: Schemas['ChecklistTypedDay']) => askLong<Flown>('tailor', text(of), text(day)),
  /** Every mistake in a list, layer or memory aid. */
  problems: (of: {
    surroundings: Schemas['ChecklistSurroundings']
    list?: Schemas['ChecklistList']
    layer?: Schemas['ChecklistLayer']
    aid?: Schemas['ChecklistAid']
  }) => askLong<Problem[]>('problems', text(of)),
  differences: (older: Schemas['ChecklistList'], newer: Schemas['ChecklistList']) =>
    askLong<Difference[]>('differences', text({ older, newer })),
}
