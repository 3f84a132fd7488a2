import { onUnmounted, reactive, ref, shallowRef } from 'vue'

import type { Schemas } from '@/api/client'
import { rules, type StandSeen } from '@/rules/rules'

const TICKS = 50
/** A sample each fifth of a second, and 90 seconds of them. */
export const SAMPLES = 450
const SAMPLE_TICKS = 10
const SILENT = { hz: 0, loud: 0, rough: 0 }

/** A stand that runs in this page: in real time, slowed, or a second at a time. */
export function useRunning(heard: (sound: StandSeen['sound']) => void) {
  const panel = shallowRef<Schemas['StandPanel'] | null>(null)
  const values = shallowRef<number[]>([])
  const beyond = shallowRef<boolean[]>([])
  const lamps = shallowRef<boolean[]>([])
  const seconds = ref(0)
  const pace = ref(0)
  /** Where each control stands, in the order of the panel. */
  const stands = reactive<number[]>([])
  /** What each gauge showed, the newest last; drawn counts what has been added. */
  let traces: number[][] = []
  const drawn = ref(0)
  let frame = 0
  let last = 0
  let owed = 0
  let since = 0

  function show(seen: StandSeen) {
    seconds.value = seen.seconds
    values.value = seen.values
    beyond.value = seen.beyond
    lamps.value = seen.lamps
    heard(pace.value ? seen.sound : SILENT)
  }
  /** Goes on by so many ticks, and keeps the samples on the way. */
  function step(ticks: number) {
    while (ticks > 0) {
      const now = Math.min(ticks, SAMPLE_TICKS - since)
      const seen = rules.standStep(now)
      ticks -= now
      since += now
      show(seen)
      if (since === SAMPLE_TICKS) {
        since = 0
        traces.forEach((t, i) => {
          t.push(seen.values[i]!)
          if (t.length > SAMPLES) t.shift()
        })
      }
    }
    drawn.value++
  }
  function turn(at: number) {
    frame = requestAnimationFrame(turn)
    // A page that was away goes on from now: nothing runs unseen.
    owed += Math.min((at - last) / 1000, 0.1) * TICKS * pace.value
    last = at
    const ticks = Math.floor(owed)
    owed -= ticks
    if (ticks > 0) step(ticks)
    else if (!pace.value) heard(SILENT)
  }
  function begin(kit: Schemas['StandView'], scenario: Schemas['StandScenario'], seed: number) {
    panel.value = rules.standBegin(kit, scenario, seed)
    stands.splice(0, stands.length, ...panel.value.controls.map((c) => c.at))
    traces = panel.value.gauges.map(() => [])
    since = owed = 0
    show(rules.standStep(0))
    pace.value = 1
    cancelAnimationFrame(frame)
    last = performance.now()
    frame = requestAnimationFrame(turn)
  }
  function move(i: number, value: number) {
    const c = panel.value!.controls[i]!
    if (stands[i] === value) return
    rules.standMove(c.control, c.engine, value)
    stands[i] = value
  }
  function back(by: number) {
    const seen = rules.standBack(Math.max(seconds.value - by, 0))
    const gone = Math.round(((seconds.value - seen.seconds) * TICKS) / SAMPLE_TICKS)
    traces.forEach((t) => t.splice(Math.max(t.length - gone, 0)))
    since = 0
    show(seen)
    stands.splice(0, stands.length, ...seen.stands)
    drawn.value++
  }
  function end() {
    cancelAnimationFrame(frame)
    pace.value = 0
    heard(SILENT)
  }
  onUnmounted(end)
  const trace = (i: number) => traces[i] ?? []
  return { panel, values, beyond, lamps, seconds, pace, stands, drawn, begin, move, step, back, end, trace }
}
export type Running = ReturnType<typeof useRunning>
