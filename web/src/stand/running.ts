import { useRafFn } from '@vueuse/core'
import { computed, onScopeDispose, ref, shallowRef } from 'vue'

import { rules } from '@/rules/rules'
import type { PracticeDeed, PracticeRun, Schemas, StandGuide, StandSeen } from '@/schema/schemas'
import { useTraces } from './traces'

const SILENT = { hz: 0, loud: 0, rough: 0 }
/** A page that was away for longer goes on from now, in seconds: nothing runs unseen. */
const AWAY = 0.1
/** Who follows a run and is further behind than this catches up, to a second, in seconds. */
const BEHIND = 4

/** A stand that runs in this page: in real time, slowed, or a second at a time. */
export function useRunning(heard: (sound: StandSeen['sound']) => void = () => undefined) {
  const panel = shallowRef<Schemas['StandPanel'] | null>(null)
  const rows = shallowRef<Schemas['LessonRow'][]>([])
  const seen = shallowRef<StandSeen | null>(null)
  const guide = shallowRef<StandGuide | null>(null)
  const seconds = ref(0)
  const pace = ref(0)
  /** An instructor holds it. */
  const frozen = ref(false)
  /** Where each control stands, in the order of the panel. */
  const stands = computed(() => seen.value?.stands ?? [])
  /** The gauges in view, the one that was opened last at the end. */
  const open = computed(() => seen.value?.inView ?? [])
  /** How often it was gone back. */
  const jumps = ref(0)
  const traces = useTraces()
  /** The steps of a second, as the course counts them. */
  let aSecond = 1
  let owed = 0
  /** How far the stand may go, where it follows somebody else's, in steps. */
  let until = Infinity

  const clock = useRafFn(({ delta }) => turn(delta / 1000), { immediate: false })

  function show(now: StandSeen) {
    if (now.turns !== seen.value?.turns) guide.value = rules.standNext()
    seconds.value = now.seconds
    seen.value = now
    heard(pace.value ? now.sound : SILENT)
  }
  /** Goes on by so many steps, and keeps the samples on the way. */
  function step(ticks = aSecond) {
    ticks = Math.min(ticks, Math.round(until - seconds.value * aSecond))
    while (ticks > 0) {
      const some = Math.min(ticks, traces.untilNext())
      show(rules.standStep(some))
      ticks -= some
      traces.add(some, seen.value!.values)
    }
    traces.drawn.value++
  }
  /** So many seconds have gone by. */
  function turn(gone: number) {
    owed += Math.min(gone, AWAY) * aSecond * (frozen.value ? 0 : pace.value)
    const ticks = Math.floor(owed)
    owed -= ticks
    if (ticks > 0) step(ticks)
    else if (!pace.value || frozen.value) heard(SILENT)
  }
  /** Shows a stand that has jumped, from there on. */
  function jumped(to: StandSeen) {
    seen.value = null
    owed = 0
    show(to)
    traces.drawn.value++
  }
  /** Goes back to the start of a course, or to what is looked at of it. */
  function reset(course: Schemas['StandView'], its: Schemas['StandPanel']) {
    panel.value = its
    aSecond = course.ticksASecond
    traces.begin(its.gauges.length, aSecond)
    until = Infinity
  }
  function begin(course: Schemas['StandView'], of: PracticeRun) {
    const begun = rules.standBegin(course, of)
    reset(course, begun.panel)
    rows.value = begun.rows
    frozen.value = false
    jumped(begun)
    pace.value = 1
    clock.resume()
  }
  /** Follows a run that somebody else works, as far as it has come. */
  function follow(course: Schemas['StandView'], of: PracticeRun) {
    begin(course, of)
    fed(of.deeds, of.ticks)
  }
  function fed(deeds: PracticeDeed[], tick: number) {
    rules.standFeed(deeds)
    until = tick
    const behind = tick - seconds.value * aSecond
    if (behind > BEHIND * aSecond) step(behind - aSecond)
  }
  /** Looks at a run from a second on. */
  function watch(course: Schemas['StandView'], of: PracticeRun, second: number) {
    reset(course, course.panel)
    until = of.ticks
    pace.value = 0
    jumped(rules.standWatch(course, of, second))
    clock.resume()
  }
  /** Does something now. What is moved on the panel is shown as it was moved. */
  function act(deed: Omit<PracticeDeed, 'tick'>) {
    rules.standDo({ tick: 0, ...deed })
    show(rules.standStep(0))
  }
  function move(i: number, value: number) {
    const c = panel.value!.controls[i]!
    if (stands.value[i] !== value) act({ move: { control: c.control, engine: c.engine, value } })
  }
  /** Brings a gauge in view, or lets it go. */
  function look(gauge: number) {
    rules.standLook(gauge)
    show(rules.standStep(0))
  }
  function back(by: number) {
    const from = seconds.value
    const to = rules.standBack(Math.max(from - by, 0))
    traces.back(from - to.seconds)
    jumps.value++
    jumped(to)
  }
  function end() {
    clock.pause()
    pace.value = 0
    heard(SILENT)
  }
  onScopeDispose(end)
  return {
    panel,
    rows,
    seen,
    guide,
    seconds,
    pace,
    frozen,
    stands,
    open,
    drawn: traces.drawn,
    jumps,
    begin,
    follow,
    fed,
    watch,
    act,
    move,
    look,
    step,
    back,
    end,
    trace: traces.trace,
  }
}
export type Running = ReturnType<typeof useRunning>
