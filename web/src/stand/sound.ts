import { onUnmounted, ref } from 'vue'

export type Heard = { hz: number; loud: number; rough: number }

/** What is heard of a stand's engines; silent until somebody asks for it. */
export function useSound() {
  const on = ref(false)
  let context: AudioContext | undefined
  let note: OscillatorNode
  let shake: OscillatorNode
  let depth: GainNode
  let loud: GainNode

  function begin() {
    context = new AudioContext()
    note = new OscillatorNode(context, { type: 'sawtooth', frequency: 1 })
    shake = new OscillatorNode(context, { type: 'square', frequency: 7 })
    depth = new GainNode(context, { gain: 0 })
    loud = new GainNode(context, { gain: 0 })
    const dull = new BiquadFilterNode(context, { type: 'lowpass', frequency: 700 })
    note.connect(dull).connect(loud).connect(context.destination)
    shake.connect(depth).connect(loud.gain)
    note.start()
    shake.start()
  }
  function toggle() {
    on.value = !on.value
    if (on.value && !context) begin()
    void (on.value ? context!.resume() : context!.suspend())
  }
  function play(heard: Heard) {
    if (!on.value || !context) return
    const soon = context.currentTime + 0.05
    note.frequency.linearRampToValueAtTime(Math.max(heard.hz, 1), soon)
    loud.gain.linearRampToValueAtTime(0.15 * heard.loud, soon)
    depth.gain.linearRampToValueAtTime(0.15 * heard.loud * heard.rough, soon)
  }
  onUnmounted(() => void context?.close())
  return { on, toggle, play }
}
