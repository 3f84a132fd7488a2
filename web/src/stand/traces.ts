import { ref } from 'vue'

/** A sample each fifth of a second, and 90 seconds of them. */
const samplesASecond = 5
export const SAMPLES = 90 * samplesASecond

/** What each gauge of a stand showed, the newest last. */
export function useTraces() {
  let traces: number[][] = []
  /** Counts on whenever something has been added. */
  const drawn = ref(0)
  /** The ticks of a sample, and how many have gone by since the last one. */
  let every = 1
  let since = 0

  function begin(gauges: number, ticksASecond: number) {
    traces = Array.from({ length: gauges }, () => [])
    every = ticksASecond / samplesASecond
    since = 0
  }
  /** How many ticks there are until the next sample. */
  const untilNext = () => every - since
  /** So many ticks have gone by, and these are the values now. */
  function add(ticks: number, values: number[]) {
    since += ticks
    if (since < every) return
    since = 0
    traces.forEach((t, i) => {
      t.push(values[i]!)
      if (t.length > SAMPLES) t.shift()
    })
  }
  /** The run has gone back so many seconds, or jumped ahead. */
  function back(seconds: number) {
    const gone = Math.max(Math.round(seconds * samplesASecond), 0)
    traces.forEach((t) => t.splice(Math.max(t.length - gone, 0)))
    since = 0
  }
  const trace = (gauge: number) => traces[gauge] ?? []

  return { drawn, begin, untilNext, add, back, trace }
}
