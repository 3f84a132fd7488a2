// What a device does beside showing: it speaks the challenge, sounds, and keeps
// its screen awake. Each is a choice of this device.
import { onUnmounted, ref, watch, type Ref } from 'vue'

const stored = (name: string) => {
  const on = ref(localStorage.getItem(name) === 'on')
  watch(on, (now) => localStorage.setItem(name, now ? 'on' : 'off'))
  return on
}
/** The challenge is spoken by the browser's own voice. */
export const speaks = stored('speak-challenge')
/** A short tone answers each mark. */
export const tones = stored('mark-tones')
export const canSpeak = 'speechSynthesis' in globalThis

/** Speaks the words, whatever was being said before. */
function say(words: string) {
  speechSynthesis.cancel()
  const spoken = new SpeechSynthesisUtterance(words)
  spoken.lang = 'en'
  speechSynthesis.speak(spoken)
}

/** Speaks what becomes live, where that is chosen. */
export function speakLive(challenge: Ref<string>) {
  if (!canSpeak) return
  watch([challenge, speaks], ([words, on]) => {
    if (on && words) say(words)
    else speechSynthesis.cancel()
  })
  onUnmounted(() => speechSynthesis.cancel())
}

/** Keeps the screen awake while the place is shown, where the browser can. */
export function stayAwake() {
  let lock: WakeLockSentinel | undefined
  let gone = false
  const ask = async () => {
    if (gone || document.visibilityState !== 'visible') return
    try {
      lock = await navigator.wakeLock?.request('screen')
      if (gone) await lock?.release()
    } catch {
      // A device that is short of power sleeps when it likes.
    }
  }
  document.addEventListener('visibilitychange', ask)
  void ask()
  onUnmounted(() => {
    gone = true
    document.removeEventListener('visibilitychange', ask)
    void lock?.release()
  })
}
