import { computed, onUnmounted, ref, shallowRef } from 'vue'

import type { PracticeDeed, PracticeRun, Schemas, StandGuide, StandSeen } from '@/schema/schemas'
import { rules } from '@/rules/rules'

/** A sample each fifth of a second, and 90 seconds of them. */
export const SAMPLES = 450
const SAMPLE_TICKS = 10
const SILENT = { hz: 0, loud: 0, rough: 0 }

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
  /** The steps of a second, as the course counts them. */
  let aSecond = 1
  /** What each gauge showed, the newest last; drawn counts what has been added. */
  let traces: number[][] = []
  const drawn = ref(0)
  /** How often it was gone back. */
  const jumps = ref(0)
  let frame = 0
  let last = 0
  let owed = 0
  let since = 0
  /** How far the stand may go, where it follows somebody else's. */
  let until = Infinity

  function show(now: StandSeen) {
    if (now.turns !== seen.value?.turns) guide.value = rules.standNext()
    seconds.value = now.seconds
    seen.value = now
    heard(pace.value ? now.sound : SILENT)
  }
  /** Goes on by so many ticks, and keeps the samples on the way. */
  function step(ticks = aSecond) {
    ticks = Math.min(ticks, Math.round(until - seconds.value * aSecond))
    while (ticks > 0) {
      const some = Math.min(ticks, SAMPLE_TICKS - since)
      show(rules.standStep(some))
      ticks -= some
      since += some
      if (since === SAMPLE_TICKS) {
        since = 0
        traces.forEach((t, i) => {
          t.push(seen.value!.values[i]!)
          if (t.length > SAMPLES) t.shift()
        })
      }
    }
    drawn.value++
  }
  function turn(at: number) {
    frame = requestAnimationFrame(turn)
    // A page that was away goes on from now: nothing runs unseen.
    owed += Math.min((at - last) / 1000, 0.1) * aSecond * (frozen.value ? 0 : pace.value)
    last = at
    const ticks = Math.floor(owed)
    owed -= ticks
    if (ticks > 0) step(ticks)
    else if (!pace.value || frozen.value) heard(SILENT)
  }
  /** Shows a stand that has jumped, from there on. */
  function jumped(to: StandSeen) {
    seen.value = null
    since = owed = 0
    show(to)
    drawn.value++
  }
  function run() {
    cancelAnimationFrame(frame)
    last = performance.now()
    frame = requestAnimationFrame(turn)
  }
  function begin(course: Schemas['StandView'], of: PracticeRun) {
    const begun = rules.standBegin(course, of)
    aSecond = course.ticksASecond
    panel.value = begun.panel
    rows.value = begun.rows
    traces = begun.panel.gauges.map(() => [])
    frozen.value = false
    until = Infinity
    jumped(begun)
    pace.value = 1
    run()
  }
  /** Follows a run that somebody else works, as far as it has come. */
  function follow(course: Schemas['StandView'], of: PracticeRun) {
    begin(course, of)
    rules.standFeed(of.deeds)
    until = of.ticks
  }
  function fed(deeds: PracticeDeed[], tick: number) {
    rules.standFeed(deeds)
    until = tick
    const behind = tick - seconds.value * aSecond
    if (behind > 4 * aSecond) step(behind - aSecond)
  }
  /** Looks at a run from a second on. */
  function watch(course: Schemas['StandView'], of: PracticeRun, second: number) {
    panel.value = course.panel
    aSecond = course.ticksASecond
    traces = course.panel.gauges.map(() => [])
    until = of.ticks
    pace.value = 0
    jumped(rules.standWatch(course, of, second))
    run()
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
  /** Brings a gauge in view, or lets it go; the one that was longest in view gives way. */
  function look(gauge: number) {
    rules.standLook(gauge)
    show(rules.standStep(0))
  }
  function back(by: number) {
    const from = seconds.value
    const to = rules.standBack(Math.max(from - by, 0))
    const gone = Math.round(((from - to.seconds) * aSecond) / SAMPLE_TICKS)
    traces.forEach((t) => t.splice(Math.max(t.length - gone, 0)))
    jumps.value++
    jumped(to)
  }
  function end() {
    cancelAnimationFrame(frame)
    pace.value = 0
    heard(SILENT)
  }
  onUnmounted(end)
  const trace = (i: number) => traces[i] ?? []
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
    drawn,
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
    trace,
  }
}
export type Running = ReturnType<typeof useRunning>
