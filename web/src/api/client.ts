import createClient from 'openapi-fetch'

import type { paths } from '@/schema/schema.gen'
import type { Schemas } from '@/schema/schemas'
import { askSchool } from '@/device/reach'

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
