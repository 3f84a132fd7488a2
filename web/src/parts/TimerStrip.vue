<script setup lang="ts">
import { computed, onUnmounted, ref } from 'vue'

import { useLesson } from '../stores/lesson'
import { durationWords, sound, timerTone, type Duration } from './timing'

/** Every running time, with its count against the type's own, and its sound. */
const lesson = useLesson()
const clock = ref(lesson.now())
const said = new Set<string>()

const durations = computed(() => lesson.view?.book.type.durations ?? [])
const fieldTimers = computed(() => {
  const out = new Map<string, string>()
  for (const c of lesson.checks)
    for (const f of c.fields)
      for (const one of [f, ...(f.each ?? [])]) if (one.timer) out.set(`${c.name} ${one.name}`, one.timer)
  return out
})
/** The duration that a timer counts: its own name, or that of the field it is for. */
function durationOf(timer: string, item?: string): Duration | undefined {
  const check = lesson.places.find((p) => p.item.id === item)?.item.check ?? ''
  const id = fieldTimers.value.get(`${check} ${timer.split('.').at(-1)}`) ?? timer
  return durations.value.find((d) => d.id === id)
}
const running = computed(() =>
  (lesson.state?.timers ?? [])
    .filter((t) => t.running)
    .map((t) => {
      const duration = durationOf(t.timer, t.item)
      const seconds = Math.max(0, (clock.value - t.startedMs) / 1000)
      return { ...t, duration, seconds, tone: timerTone(seconds, duration) }
    }),
)
const words = (t: { timer: string; duration?: Duration }) =>
  t.duration?.label ??
  t.timer
    .split('.')
    .at(-1)!
    .replaceAll(/([A-Z])/g, ' $1')
    .toLowerCase()

const ticking = setInterval(() => {
  clock.value = lesson.now()
  for (const t of running.value) {
    const key = `${t.item} ${t.timer} ${t.startedMs}`
    const once = (kind: 'reached' | 'passed') => {
      if (!said.has(key + kind)) sound(kind)
      said.add(key + kind)
    }
    if (t.duration?.maxSeconds && t.seconds > t.duration.maxSeconds) once('passed')
    else if (t.duration?.minSeconds && t.seconds >= t.duration.minSeconds) once('reached')
  }
}, 200)
onUnmounted(() => clearInterval(ticking))

const stop = (t: { timer: string; item?: string }) =>
  lesson.touch([{ kind: 'timer-stopped', payload: { timer: t.timer, item: t.item } }])
</script>

<template>
  <div v-if="running.length" class="timers" role="timer">
    <span v-for="t in running" :key="t.timer + t.item" :class="['timer', t.tone]" :data-running="t.timer">
      {{ t.tone === 'out' ? '■' : t.tone === 'within' ? '●' : '▲' }} {{ words(t) }}
      <b class="mono">{{ t.seconds.toFixed(0) }} s</b>
      <span class="soft small">{{ durationWords(t.duration) }}</span>
      <button v-if="!lesson.closed && !t.timer.includes('econds')" class="quiet" @click="stop(t)">
        stop
      </button>
    </span>
  </div>
</template>

<style scoped>
.timers {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 22px;
  padding: 2px 24px;
  border-bottom: 1px solid var(--hair);
  font-size: 16px;
}

.timer {
  display: inline-flex;
  gap: 8px;
  align-items: baseline;
  min-height: 36px;
}

b {
  font-size: 22px;
}

.quiet {
  min-height: 34px;
  text-decoration: underline;
}
</style>
