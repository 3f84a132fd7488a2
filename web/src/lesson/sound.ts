// How times sound.
let audio: AudioContext | undefined

/** A high one for a mark, one short tone for a time that is reached, three low ones for one that is passed. */
export function sound(kind: 'reached' | 'passed' | 'marked') {
  try {
    audio ??= new AudioContext()
    const beep = (at: number, hertz: number) => {
      const [tone, gain] = [audio!.createOscillator(), audio!.createGain()]
      tone.frequency.value = hertz
      gain.gain.setValueAtTime(0.2, audio!.currentTime + at)
      gain.gain.exponentialRampToValueAtTime(0.001, audio!.currentTime + at + 0.25)
      tone.connect(gain).connect(audio!.destination)
      tone.start(audio!.currentTime + at)
      tone.stop(audio!.currentTime + at + 0.3)
    }
    if (kind === 'marked') beep(0, 1320)
    else if (kind === 'reached') beep(0, 880)
    else [0, 0.3, 0.6].forEach((at) => beep(at, 440))
  } catch {
    // A device without sound still shows the count.
  }
}
