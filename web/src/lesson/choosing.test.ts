import { beforeEach, expect, it, vi } from 'vitest'
import { effectScope, nextTick } from 'vue'

import type { Schemas } from '@/schema/schemas'
import { school, signedIn } from '@/test/school'
import { useChoosing } from './choosing'

const rules = vi.hoisted(() => ({ choose: vi.fn(), opened: vi.fn() }))
vi.mock('@/rules/rules', async () => {
  class RuleError extends Error {
    constructor(
      message: string,
      readonly field: string,
    ) {
      super(message)
    }
    said = (names: Record<string, string>) => `${names[this.field]} ${this.message}.`
  }
  return { ready: () => Promise.resolve(), readIn: () => undefined, rules, RuleError }
})

const aircraft = (registration: string, type: string) => ({
  registration,
  type,
  equipment: [],
  elevationFt: 412,
  base: 'XTHW',
})
const briefing = {
  day: '2026-11-24',
  aircraft: [aircraft('QZ-AAA', 'alder-110'), aircraft('QZ-AAG', 'hornbeam-twin')],
  students: [],
}
const desk = (type: string) => ({
  type: { id: type, startOrder: type === 'hornbeam-twin' ? [1, 2] : undefined },
  lists: [{ id: `${type}-list` }],
  layers: [],
  paper: true,
  policy: { startOrder: [], fuelMethod: 'fuller-first', skips: 'never', breakers: 'once', passing: 3 },
})
/** A school that answers with the desk of one type only when it is let. */
function serving(late = '') {
  let answer: () => void = () => undefined
  const until = new Promise<void>((resolve) => (answer = resolve))
  const asked = school((a) => (a.path === '/briefing' ? briefing : desk(a.path.split('/')[2]!)))
  const prompt = fetch
  vi.stubGlobal('fetch', async (request: Request) => {
    if (late && request.url.includes(`/desk/${late}`)) await until
    return prompt(request)
  })
  return { asked, answer }
}
const chosen = () => effectScope().run(() => useChoosing())!

beforeEach(() => {
  signedIn()
  rules.choose.mockReset().mockReturnValue({ list: {}, reasons: [] })
  rules.opened.mockReset().mockReturnValue({ student: 'ravi' })
})

it('takes list, order and policy of the aircraft that was chosen last', async () => {
  const { asked, answer } = serving('hornbeam-twin')
  const c = chosen()
  await c.begin()
  c.choice.aircraft = 'QZ-AAG'
  await nextTick()
  c.choice.aircraft = 'QZ-AAA'
  await vi.waitFor(() => expect(c.desk.value?.type.id).toBe('alder-110'))
  answer()
  await vi.waitFor(() => expect(asked.at(-1)!.path).toBe('/desk/hornbeam-twin'))
  await new Promise((resolve) => setTimeout(resolve, 20))
  expect([c.desk.value!.type.id, c.choice.list, c.choice.order]).toEqual(['alder-110', 'alder-110-list', ''])
  await vi.waitFor(() => expect(c.flown.value).not.toBeNull())
  expect(rules.choose.mock.calls.at(-1)![0]).toMatchObject({
    aircraft: 'QZ-AAA',
    elevationFt: 412,
    passing: 3,
  })
})

it('asks for what served on the day of the paper, and gives it to the rules only then', async () => {
  const { asked } = serving()
  const c = chosen()
  await c.begin()
  c.choice.aircraft = 'QZ-AAG'
  await vi.waitFor(() => expect(c.choice.order).toBe('1,2'))
  Object.assign(c.paper, { on: true, day: '2026-11-20', from: '09:10' })
  await vi.waitFor(() => expect(asked.at(-1)!.query.get('on')).toBe('2026-11-20'))
  await vi.waitFor(() => expect(c.desk.value).not.toBeNull())
  await c.open(async () => undefined)
  expect(rules.opened.mock.calls[0]![0]).toMatchObject({
    paper: { day: '2026-11-20', off: '09:10' },
    startOrder: [1, 2],
  })
})

it('names the field that the rules refuse, in the words of the screen', async () => {
  serving()
  const { RuleError } = await import('@/rules/rules')
  rules.opened.mockImplementation(() => {
    throw new RuleError('is not chosen yet', 'student', '')
  })
  const c = chosen()
  await c.begin()
  const opened = vi.fn()
  await c.open(opened)
  expect([c.problem.value, c.wrong.value]).toEqual(['The student is not chosen yet.', 'student'])
  expect(opened).not.toHaveBeenCalled()
})

it('keeps how somebody grades, takes what is planned, and lets a report fill what it speaks of', async () => {
  serving()
  const first = chosen()
  first.choice.method = 'challenge-and-response'
  await nextTick()
  const c = chosen()
  expect(c.choice.method).toBe('challenge-and-response')
  c.takePlanned({ studentId: 'ravi', registration: 'QZ-AAA', exercises: ['stalls'] } as Schemas['Planned'])
  expect([c.choice.student, c.choice.aircraft, c.day.exercises]).toEqual(['ravi', 'QZ-AAA', ['stalls']])
  c.choice.runway = '20'
  c.takeReport({ oat: '9', dew: '', qnh: '1009', wind: '210/14', runway: '' } as Schemas['ChecklistReported'])
  expect([c.day.oat, c.day.qnh, c.choice.wind, c.choice.runway]).toEqual(['9', '1009', '210/14', '20'])
})
