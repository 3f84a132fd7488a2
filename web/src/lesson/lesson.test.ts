import { beforeEach, describe, expect, it, vi } from 'vitest'

import { Refused } from '@/api/client'
import { kept } from '@/device/kept'
import { reach } from '@/device/reach'
import type { Briefing, DeskView, LessonEvent, LessonView, Mark, Shown } from '@/schema/schemas'
import { event, school, signedIn, type Answer, type Asked } from '@/test/school'
import { fetchLesson } from './fetching'
import { useLesson } from './lesson'
import { readLesson, storeClock, storeLesson } from './onDevice'

/** Rules that count the events of a lesson, and make one of each touch. */
const folded = vi.hoisted(() => ({ events: [] as LessonEvent[], device: '' }))
vi.mock('@/rules/rules', () => {
  const shown = (more: object = {}) =>
    ({
      state: {
        items: [{ id: 'beacon' }],
        seals: [],
        durationMs: 0,
        eventHash: `${folded.events.length}`,
        opened: {},
      },
      live: folded.events.length,
      counter: folded.events.length,
      ...more,
    }) as unknown as Shown
  return {
    ready: () => Promise.resolve(),
    readIn: () => undefined,
    rules: {
      book: () => ({ opening: 'opening' }),
      open: (_: unknown, events: LessonEvent[], device: string) => {
        Object.assign(folded, { events: [...new Map(events.map((e) => [e.id, e])).values()], device })
        const list = { phases: [{ items: [{ id: 'beacon' }] }] }
        return shown({ rows: [{ item: 'beacon', mates: [0] }], brief: [], list })
      },
      add: (events: LessonEvent[]) => {
        folded.events.push(...events)
        return shown()
      },
      touch: (mark: Mark) => {
        if (mark.name === 'refused') throw new Error('is no mark')
        const seq = folded.events.filter((e) => e.device === folded.device).length + 1
        const made = event(`${folded.device}-${seq}`, seq, folded.device)
        folded.events.push(made)
        return shown({ events: [made] })
      },
    },
  }
})

const lesson = (more: object = {}) =>
  ({
    lesson: { id: 'a' },
    kit: { hash: 'kit' },
    book: { opening: 'opening' },
    marks: true,
    ...more,
  }) as unknown as LessonView
const opening = { ...event('opening', 1, 'theirs'), kind: 'lesson-opened' }
/** A school that has one lesson of some events, and keeps what it is sent. */
function schoolWith(has: LessonEvent[], answer: (asked: Asked) => Answer = () => 404) {
  return school((a) => {
    if (a.method === 'GET' && a.path === '/lessons/a') {
      const have = new Map(
        a.query
          .getAll('have')
          .flatMap((h) => h.split(','))
          .map((h) => h.split(':') as [string, string]),
      )
      const lacks = has.filter((e) => e.seq > Number(have.get(e.device) ?? 0))
      const { kit, ...rest } = lesson()
      const needed = a.query.get('kit') === 'kit' ? {} : { kit }
      return { ...rest, ...needed, events: lacks, count: has.length, runningMs: 5000 }
    }
    if (a.path === '/lessons/a/events') {
      const { events } = a.body as { events: LessonEvent[] }
      has.push(...events)
      return { answers: events.map(({ id }) => ({ id, status: 'held' })) }
    }
    return answer(a)
  })
}

beforeEach(() => void signedIn())

describe('a lesson that is opened', () => {
  it('comes from the school, is kept here, and is asked for without what is here', async () => {
    const asked = schoolWith([opening, event('2', 2, 'theirs')])
    const store = useLesson()
    await store.load('a')
    expect(store.places.map((p) => p.item.id)).toEqual(['beacon'])
    expect(store.now()).toBeGreaterThanOrEqual(5000)
    await vi.waitFor(async () => expect(await kept.marks.count()).toBe(2))
    await store.bring('a')
    const again = asked.at(-1)!.query
    expect([again.get('kit'), again.get('have')]).toEqual(['kit', 'theirs:2'])
  })

  it('is shown as the device has it while the school is away, with its clock running on', async () => {
    schoolWith([opening])
    await useLesson().bring('a')
    await storeClock('tharwood ada', 'a', 60_000)
    school(() => undefined)
    const store = useLesson()
    await store.load('a')
    expect(store.view?.lesson.id).toBe('a')
    expect(store.now()).toBeGreaterThanOrEqual(60_000)
  })

  it('is not shown where the school refuses it', async () => {
    school(() => 403)
    const store = useLesson()
    await expect(store.load('a')).rejects.toThrow(Refused)
    expect(store.view).toBeNull()
  })

  it('shows a touch once it is kept, sends it, and throws what the rules refuse', async () => {
    const has = [opening]
    schoolWith(has)
    const store = useLesson()
    await store.load('a')
    await store.touch({ name: 'done' } as Mark)
    expect([store.liveIndex, (await kept.marks.where('state').equals('waiting').count()) <= 1]).toEqual([
      2,
      true,
    ])
    expect(() => store.touch({ name: 'refused' } as Mark)).toThrow('is no mark')
    await vi.waitFor(() => expect(has).toHaveLength(2))
  })

  it('takes in what another tablet marked, and keeps what is half typed', async () => {
    const has = [opening]
    schoolWith(has)
    const store = useLesson()
    await store.load('a')
    store.drafts.beacon = { left: '90' }
    has.push(event('other', 1, 'other'))
    await store.catchUp()
    expect([store.liveIndex, store.drafts.beacon]).toEqual([2, { left: '90' }])
  })

  it('is opened on this device without the school, and goes there later', async () => {
    school(() => undefined)
    const store = useLesson()
    const briefing = { students: [], scales: [{ id: undefined }], flown: {} } as unknown as Briefing
    const id = await store.open({}, { kit: { hash: 'k' } } as DeskView, briefing)
    await store.load(id)
    expect(store.view?.lesson).toMatchObject({ id, instructor: 'Ada Achterberg', status: 'open' })
    expect((await kept.marks.toArray()).map((m) => [m.lesson, m.state])).toEqual([[id, 'waiting']])
    school(() => 409)
    await expect(store.open({}, {} as DeskView, briefing)).rejects.toThrow('answers 409')
  })

  it('is signed from just the events that are shown', async () => {
    const asked = schoolWith([opening], (a) => (a.path.endsWith('/sign') ? { items: [], seals: [{}] } : 404))
    const store = useLesson()
    await store.load('a')
    await store.sign({ pin: '2468' })
    expect(asked.at(-1)!.body).toMatchObject({ pin: '2468', eventHash: '1' })
    expect(store.closed).toBe(true)
    reach.away = true
    await expect(store.sign({ pin: '2468' })).rejects.toThrow()
  })
})

it('asks for the whole lesson where an event came here without one before it', async () => {
  const asked = school((a) => ({
    ...lesson(),
    events: a.query.has('have') ? [] : [opening, event('2', 2, 'theirs'), event('3', 3, 'theirs')],
    count: 3,
    runningMs: 0,
  }))
  const here = { lesson: lesson(), events: [opening, event('3', 3, 'theirs')], unsent: new Set<string>() }
  const found = await fetchLesson('a', here)
  expect(found!.events.map((e) => e.id)).toEqual(['opening', '2', '3'])
  expect(asked).toHaveLength(2)
})

it('believes no clock that was left for more than a day', async () => {
  const events = () => Promise.resolve([])
  const of = async (left: number) => {
    await kept.answers.put({
      owner: 'o',
      what: 'clock/a',
      at: 0,
      body: { ms: 1000, wall: Date.now() - left },
    })
    return (await readLesson('o', 'a', events))!.running
  }
  await storeLesson('o', lesson(), [])
  expect(await of(5000)).toBeGreaterThanOrEqual(6000)
  expect(await of(25 * 3600_000)).toBe(1000)
  expect(await of(-5000)).toBe(1000)
  expect(await readLesson('other', 'a', events)).toBeUndefined()
})
