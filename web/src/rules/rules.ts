import type { LessonEvent, LessonState, LessonView, Schemas, Verdict } from '../api/client'

export type Fault = { path: string; reason: string }
export type Flown = Schemas['ChecklistFlown']
export type Tailoring = {
  list: Schemas['ChecklistList']
  layers: Schemas['ChecklistLayer'][]
  type: Schemas['AircraftType']
  aircraft: { equipment?: string[]; startOrder?: number[] }
  day: Schemas['ChecklistDay']
}
export type Difference = {
  kind: 'added' | 'removed' | 'moved' | 'changed'
  phase: string
  item: string
  challenge: string
  field?: string
  before?: unknown
  after?: unknown
}

type Answered = { answers: { id: string; status: string; reason?: string }[]; state: LessonState }

let worker: Worker | undefined
let next = 0
const waiting = new Map<number, (answer: string) => void>()

function ask<T>(name: string, ...args: string[]): Promise<T> {
  if (!worker) {
    worker = new Worker(new URL('./worker.ts', import.meta.url), { type: 'module' })
    worker.onmessage = (message: MessageEvent<{ id: number; answer: string }>) => {
      waiting.get(message.data.id)?.(message.data.answer)
      waiting.delete(message.data.id)
    }
  }
  const id = ++next
  return new Promise((resolve, reject) => {
    waiting.set(id, (text) => {
      const answer = JSON.parse(text) as { ok?: T; error?: string }
      if (answer.error !== undefined) reject(new Error(answer.error))
      else resolve(answer.ok as T)
    })
    worker!.postMessage({ id, name, args })
  })
}

/** The rules of the job, running in this browser. */
export const rules = {
  open: (book: LessonView['book'], events: LessonEvent[]) =>
    ask<Answered>('open', JSON.stringify(book), JSON.stringify(events)),
  apply: (events: LessonEvent[]) => ask<Answered>('apply', JSON.stringify(events)),
  /** Judges a reading by the open lesson's aircraft type. */
  check: (name: string, request: object) => ask<Verdict>('check', name, JSON.stringify(request), ''),
  /** Judges a reading by the type given. */
  judge: (name: string, request: object, type: Schemas['AircraftType']) =>
    ask<Verdict>('check', name, JSON.stringify(request), JSON.stringify(type)),
  calc: <T = Record<string, unknown>>(
    name: string,
    request: object,
    type: Schemas['AircraftType'] | null,
    icing: Schemas['CalcIcingBand'][],
  ) =>
    ask<{ values: T; advice: { code: string; message: string }[] }>(
      'calc',
      name,
      JSON.stringify(request),
      type ? JSON.stringify(type) : '',
      JSON.stringify(icing),
    ),
  tailor: (of: Tailoring) => ask<Flown>('tailor', JSON.stringify(of)),
  /** Every mistake in a list, layer or memory aid. */
  faults: (of: {
    surroundings: Schemas['ChecklistSurroundings']
    list?: Schemas['ChecklistList']
    layer?: Schemas['ChecklistLayer']
    aid?: Schemas['ChecklistAid']
  }) => ask<Fault[]>('faults', JSON.stringify(of)),
  differences: (older: Schemas['ChecklistList'], newer: Schemas['ChecklistList']) =>
    ask<Difference[]>('differences', JSON.stringify({ older, newer })),
}
