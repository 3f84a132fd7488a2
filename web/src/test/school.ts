import { vi } from 'vitest'

import type { LessonEvent, Session } from '@/schema/schemas'
import { useSession } from '@/shared/session'

/** What the school is asked, and what it answers: a status, or a body. */
export type Asked = { method: string; path: string; query: URLSearchParams; body: unknown }
export type Answer = number | object | undefined

/** A school that answers by a function; undefined is a school that is not reached. */
export function school(answer: (asked: Asked) => Answer) {
  const asked: Asked[] = []
  vi.stubGlobal(
    'fetch',
    vi.fn(async (request: Request) => {
      const url = new URL(request.url)
      const text = await request.clone().text()
      const one = {
        method: request.method,
        path: url.pathname.replace('/api/v1', ''),
        query: url.searchParams,
        body: text.startsWith('{') ? (JSON.parse(text) as unknown) : undefined,
      }
      asked.push(one)
      const given = answer(one)
      if (given === undefined) throw new TypeError('not reached')
      const body = typeof given === 'number' ? { detail: `The school answers ${given}.` } : given
      return new Response(JSON.stringify(body), {
        status: typeof given === 'number' ? given : 200,
        headers: { 'Content-Type': 'application/json' },
      })
    }),
  )
  return asked
}

/** Signs somebody in on this page, without asking the school. */
export function signedIn(account = 'ada'): Session {
  const session = {
    account,
    name: 'Ada Achterberg',
    school: 'tharwood',
    schoolId: 'a-school',
    zone: 'UTC',
    units: {},
    may: [],
    roles: ['instructor'],
  } as unknown as Session
  useSession().current = session
  return session
}

/** An event of a device, in its place. */
export const event = (id: string, seq = 1, device = 'here'): LessonEvent => ({
  id,
  device,
  seq,
  counter: seq,
  atMs: seq * 1000,
  wall: '2026-11-24T09:00:00Z',
  kind: 'mark',
  v: 1,
  payload: {},
})
