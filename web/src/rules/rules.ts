import './wasm_exec.js'

import type { Schemas } from '@/schema/schemas'
import { functions } from './functions.gen'
import { start, type Module, type Rules } from './start'

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

const text = (v: unknown) => (v === undefined || v === null ? '' : JSON.stringify(v))

/** Asks the rules in this page, at once: a lesson's where they know it. */
function ask<T>(name: string, ...args: unknown[]): T {
  const of = here.lesson?.[name] ?? here.rules?.[name]
  if (!of) throw new Error('The rules are not loaded yet.')
  return taken<T>(of(...args.map(text)))
}

/** Asks the worker's rules, for what takes long. */
async function askLong<T>(name: string, ...args: unknown[]): Promise<T> {
  await post({ name: 'units', args: [text(units)] })
  return taken<T>((await post({ name, args: args.map(text) })).answer!)
}

/** The rules of the job, running in this browser. What is synchronous needs ready(). */
export const rules = functions(ask, askLong)
