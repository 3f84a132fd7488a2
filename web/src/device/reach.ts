// Whether the school is reached, and what stands in for its answers when it is
// not.
import { reactive } from 'vue'

import offline from '@/schema/offline.gen.json'

import { kept, type KeptAnswer } from './kept'

export const reach = reactive({
  /** The school was not reached when it was last asked. */
  away: false,
  /** When the oldest of what is shown instead was answered; 0 for none. */
  from: 0,
})

/** Whose answers are kept, and in whose name the school is asked. */
export const asking = { owner: '', account: '' }

const api = '/api/v1'
/** The answers that are worth having without the school, as the API declares them. */
const worth = offline.map((path) => new RegExp(`^${path.replace(/\{[^}]+\}/g, '[^/]+')}$`))
/** How long the school is waited for when the device has its last answer. */
const patience = 6000

function worthKeeping(request: Request): string | undefined {
  const url = new URL(request.url)
  const path = url.pathname.startsWith(api) ? url.pathname.slice(api.length) : ''
  const keeps = request.method === 'GET' && asking.owner && worth.some((one) => one.test(url.pathname))
  return keeps ? path + url.search : undefined
}

/** The school's last answer to a question. */
async function last(what: string): Promise<Response | undefined> {
  const found = await kept.answers.get([asking.owner, what]).catch(() => undefined)
  if (!found) return undefined
  reach.from = reach.from ? Math.min(reach.from, found.at) : found.at
  return replay(found)
}

/** A kept answer as one that has just come. */
const replay = (found: KeptAnswer) =>
  new Response(JSON.stringify(found.body), { headers: { 'Content-Type': 'application/json' } })

/** A server that is not there is not told from one behind a proxy that says so. */
const gone = (status: number) => status === 502 || status === 503 || status === 504

/** The school has been reached: what waits goes at once. */
export function reached() {
  const before = reach.away
  reach.away = false
  reach.from = 0
  if (before) dispatchEvent(new Event('online'))
}

/** Asks the school; without it the device answers where it can. */
export async function askSchool(request: Request): Promise<Response> {
  const { owner, account } = asking
  if (account) request.headers.set('Jetprimer-For', account)
  const what = worthKeeping(request)
  const held = what === undefined ? undefined : await kept.answers.get([owner, what]).catch(() => undefined)
  if (held?.tag) request.headers.set('If-None-Match', held.tag)
  try {
    const answer = await fetch(
      request,
      held ? { signal: AbortSignal.any([request.signal, AbortSignal.timeout(patience)]) } : {},
    )
    if (gone(answer.status)) reach.away = true
    else reached()
    if (reach.away && held) return (await last(what!)) ?? answer
    if (what === undefined) return answer
    if (answer.status === 304) {
      void kept.answers.update([owner, what], { at: Date.now() })
      return replay(held!)
    }
    if (answer.ok) void keep(owner, what, answer.clone())
    return answer
  } catch (e) {
    if (request.signal.aborted) throw e // given up by who asked
    reach.away = true
    const instead = what !== undefined && asking.owner === owner && (await last(what))
    if (instead) return instead
    throw e
  }
}

/** Keeps an answer; a device that cannot keeps none. */
async function keep(owner: string, what: string, answer: Response) {
  try {
    const tag = answer.headers.get('ETag') ?? undefined
    await kept.answers.put({ owner, what, at: Date.now(), tag, body: await answer.json() })
  } catch {
    // Marks are told of when they cannot be kept; an answer can be had again.
  }
}
