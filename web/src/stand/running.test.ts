import { beforeEach, expect, it, vi } from 'vitest'
import { effectScope } from 'vue'

import type { PracticeDeed, PracticeRun, Schemas, StandSeen } from '@/schema/schemas'
import { useRunning } from './running'
import { SAMPLES, useTraces } from './traces'

/** A stand whose one gauge shows its seconds; deeds turn its page. */
const stand = vi.hoisted(() => ({ tick: 0, turns: 0, fed: [] as PracticeDeed[] }))
vi.mock('@/rules/rules', () => {
  const seen = () =>
    ({
      seconds: stand.tick / 50,
      values: [stand.tick / 50],
      stands: [0],
      inView: [],
      turns: stand.turns,
      sound: { hz: 9 },
    }) as unknown as StandSeen
  return {
    rules: {
      standBegin: () => (
        Object.assign(stand, { tick: 0, turns: 0 }),
        { ...seen(), panel: { gauges: [{}], controls: [{ control: 'throttle' }] }, rows: [] }
      ),
      standStep: (n: number) => ((stand.tick += n), seen()),
      standBack: (s: number) => ((stand.tick = s * 50), seen()),
      standDo: () => void stand.turns++,
      standFeed: (deeds: PracticeDeed[]) => void stand.fed.push(...deeds),
      standNext: () => ({ place: stand.turns }),
    },
  }
})
const course = { ticksASecond: 50, panel: { gauges: [{}] } } as unknown as Schemas['StandView']
const run = { ticks: 0, deeds: [] } as unknown as PracticeRun

let frame: FrameRequestCallback = () => undefined
let now = 0
/** Milliseconds go by until the next frame. */
const passes = (ms: number) => frame((now += ms))
beforeEach(() => {
  vi.spyOn(window, 'requestAnimationFrame').mockImplementation((f) => ((frame = f), 1))
  now = 0
})
const begun = () => {
  const heard: number[] = []
  const running = effectScope().run(() => useRunning((s) => heard.push(s.hz)))!
  running.begin(course, run)
  passes(1)
  passes(0)
  return { running, heard }
}

it('runs in real time, slowed or held, and not while the page was away', () => {
  const { running, heard } = begun()
  for (let i = 0; i < 10; i++) passes(100)
  expect(running.seconds.value).toBeCloseTo(1, 1)
  running.pace.value = 0.25
  for (let i = 0; i < 10; i++) passes(100)
  expect(running.seconds.value).toBeCloseTo(1.25, 1)
  running.frozen.value = true
  const held = running.seconds.value
  passes(100)
  expect([running.seconds.value, heard.at(-1)]).toEqual([held, 0])
  running.frozen.value = false
  running.pace.value = 1
  const before = running.seconds.value
  passes(60_000)
  expect(running.seconds.value - before).toBeLessThanOrEqual(0.12)
})

it('keeps five samples a second, takes them back when it goes back, and asks what is next when the page turns', () => {
  const { running } = begun()
  running.step(100)
  expect(running.trace(0)).toEqual([0.2, 0.4, 0.6, 0.8, 1, 1.2, 1.4, 1.6, 1.8, 2])
  running.back(1)
  expect([running.trace(0), running.seconds.value, running.jumps.value]).toEqual([
    [0.2, 0.4, 0.6, 0.8, 1],
    1,
    1,
  ])
  running.move(0, 0.5)
  expect(running.guide.value).toEqual({ place: 1 })
  running.move(0, 0)
  expect(stand.turns).toBe(1)
})

it('follows somebody else’s run as far as it has come, and catches up', () => {
  const { running } = begun()
  running.follow(course, { ...run, ticks: 30 })
  running.step(500)
  expect(running.seconds.value).toBe(0.6)
  running.fed([{ tick: 40 }], 100)
  expect([running.seconds.value, stand.fed.length]).toEqual([0.6, 1])
  running.fed([], 1000)
  expect(running.seconds.value).toBe(19)
})

it('keeps the last minute and a half', () => {
  const traces = useTraces()
  traces.begin(1, 50)
  for (let i = 0; i < SAMPLES + 7; i++) traces.add(10, [i])
  expect([traces.trace(0).length, traces.trace(0)[0], traces.trace(3)]).toEqual([SAMPLES, 7, []])
})
