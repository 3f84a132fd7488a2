import { afterEach, expect, it } from 'vitest'
import { effectScope, ref, type EffectScope } from 'vue'

import type { Schemas } from '@/schema/schemas'
import { useCarrying } from './carrying'
import { awayOn, cardsOf, shiftsOn, spanOf, timeOf, type By, type Card, type Schedule } from './layout'
import type { Place, Planned } from './moving'

const monday = '2026-11-23'
const planned = (id: string, from: string, to: string, more: object = {}) =>
  ({
    id,
    startsAt: `${from}:00Z`,
    endsAt: `${to}:00Z`,
    registration: 'QZ-AAA',
    instructorId: 'tunde',
    studentId: 'ravi',
    student: 'Ravi Sandoval',
    instructor: 'Tunde Okonjo',
    for: [],
    ...more,
  }) as unknown as Planned
const days = Array.from({ length: 7 }, (_, i) => `2026-11-${23 + i}`)
const view = (more: object = {}) =>
  ({
    days,
    today: monday,
    planned: [
      planned('a', '2026-11-23T10:00', '2026-11-23T11:30'),
      planned('b', '2026-11-23T08:00', '2026-11-23T09:00'),
    ],
    away: [],
    shifts: { tunde: [{ day: 1, from: '08:00', to: '16:00' }] },
    against: {},
    ...more,
  }) as unknown as Schedule

it('draws the usual hours of a day, and all that is planned', () => {
  expect(spanOf([], 'UTC')).toEqual({ from: 420, to: 1200 })
  expect(spanOf([planned('n', '2026-11-23T05:30', '2026-11-23T06:30')], 'UTC').from).toBe(300)
  expect(spanOf([planned('n', '2026-11-23T22:30', '2026-11-24T01:00')], 'UTC').to).toBe(1440)
})

it('stands cards on their line and day, the earliest first, and a held one where it would be put', () => {
  const ids = (by: By, line: string, day: string) => cardsOf(view(), by, 'UTC', line, day).map((c) => c.key)
  expect(ids('aircraft', 'QZ-AAA', monday)).toEqual(['b', 'a'])
  expect(ids('student', 'ravi', monday)).toEqual(['b', 'a'])
  expect([ids('aircraft', 'QZ-AAB', monday), ids('instructor', 'tunde', '2026-11-24')]).toEqual([[], []])
  const to = { instructor: 'tunde', registration: 'QZ-AAB', on: '2026-11-24', at: '12:15', minutes: 60 }
  const held = { planned: view().planned[0]!, to, look: 'held' as const }
  expect(cardsOf(view(), 'aircraft', 'UTC', 'QZ-AAB', '2026-11-24', held)).toMatchObject([
    { from: 735, long: 60, fixed: true },
  ])
  expect(cardsOf(view(), 'aircraft', 'UTC', 'QZ-AAA', monday, held).map((c) => c.look)).toEqual([
    '',
    'away-from',
  ])
})

it('stands a leave on each of its days, and ends one at midnight the day before', () => {
  const away = view({
    away: [{ personId: 'tunde', startsAt: '2026-11-23T12:00:00Z', endsAt: '2026-11-25T00:00:00Z' }],
  })
  const on = (day: string) => awayOn(away, 'UTC', 'tunde', day).map((a) => [a.from, a.to])
  expect([on('2026-11-22'), on(monday), on('2026-11-24'), on('2026-11-25')]).toEqual([
    [],
    [[720, 1440]],
    [[0, 1440]],
    [],
  ])
  expect([shiftsOn(view(), 'tunde', monday), shiftsOn(view(), 'tunde', '2026-11-24')]).toEqual([
    ['08:00 to 16:00'],
    [],
  ])
})

let scope: EffectScope | undefined
afterEach(() => scope?.stop())
/** A grid on which lessons are carried by keys. */
function carried(of: Schedule, by: By = 'aircraft', moves = true) {
  const moved: Place[] = []
  const lines = ['QZ-AAA', 'QZ-AAB'].map((id) => ({ id, name: id })) as unknown as Schemas['ScheduleLine'][]
  scope = effectScope()
  const c = scope.run(() =>
    useCarrying({ view: of, by, zone: 'UTC', moves, lines }, ref({ from: 420, to: 1200 }), (_, to) =>
      moved.push(to),
    ),
  )!
  const card = cardsOf(of, by, 'UTC', by === 'aircraft' ? 'QZ-AAA' : 'tunde', monday).at(-1) as Card
  const press = (...keys: string[]) =>
    keys.forEach(
      (k) =>
        void c.key(
          new KeyboardEvent('keydown', { key: k.replace('+', ''), shiftKey: k.includes('+') }),
          card,
        ),
    )
  return { ...c, moved, press }
}

it('is carried through a week by the arrow keys, and no further than it goes', () => {
  const c = carried(view())
  c.press('m', 'ArrowRight', 'ArrowDown', 'ArrowDown', 'ArrowRight+')
  expect(c.spoken.value).toContain('10:15, 90 minutes, QZ-AAB. Enter puts it there')
  c.press('Enter')
  expect(c.moved).toEqual([
    { instructor: 'tunde', registration: 'QZ-AAB', on: '2026-11-24', at: '10:15', minutes: 90 },
  ])
  c.press('m', 'ArrowLeft', 'Enter')
  expect(c.moved).toHaveLength(1)
})

it('is stretched on one day, and left with Escape', () => {
  const c = carried(view({ days: [monday] }))
  c.press('m', ...Array.from({ length: 40 }, () => 'ArrowRight+'), 'Enter')
  expect(c.moved[0]).toMatchObject({ at: '10:00', minutes: 480 })
  c.press('m', 'ArrowLeft', 'Escape')
  expect([c.held.value, c.moved.length]).toEqual([null, 1])
})

it('is not picked up where nobody may, nor when it has been flown or is past', () => {
  for (const c of [carried(view(), 'aircraft', false), carried(view({ today: '2026-11-25' }))]) {
    c.press('m')
    expect(c.held.value).toBeNull()
  }
})

it('knows no time before midnight, and none after', () => {
  expect([timeOf(-15), timeOf(1500)]).toEqual(['00:00', '23:59'])
})
