<script setup lang="ts">
import { onMounted, onUnmounted, ref } from 'vue'

/** Dictation into a text, where the browser listens on the device itself; nowhere else. */
type Heard = { results: ArrayLike<ArrayLike<{ transcript: string }>> }
type Listener = EventTarget & {
  lang: string
  processLocally: boolean
  start(): void
  stop(): void
}
type Listeners = {
  new (): Listener
  available?(o: { langs: string[]; processLocally: boolean }): Promise<string>
}
const text = defineModel<string>({ required: true })
const can = ref(false)
const listening = ref(false)
const lang = 'en-GB'
let listener: Listener | undefined
const known = () => (globalThis as unknown as { SpeechRecognition?: Listeners }).SpeechRecognition

onMounted(async () => {
  const there = await known()
    ?.available?.({ langs: [lang], processLocally: true })
    .catch(() => '')
  can.value = there === 'available'
})
onUnmounted(() => listener?.stop())

function listen() {
  if (listening.value) return listener?.stop()
  listener = new (known()!)()
  listener.lang = lang
  listener.processLocally = true
  listener.addEventListener('result', (e) => {
    const heard = Array.from((e as unknown as Heard).results, (r) => r[0]!.transcript).join(' ')
    text.value = `${text.value} ${heard}`.trim()
  })
  listener.addEventListener('end', () => (listening.value = false))
  listener.start()
  listening.value = true
}
</script>

<template>
  <button v-if="can" type="button" :aria-pressed="listening" @click="listen">
    {{ listening ? 'Stop listening' : 'Dictate, on this device' }}
  </button>
</template>
