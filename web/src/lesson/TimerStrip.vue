<script setup lang="ts">
import { computed, onUnmounted, ref } from 'vue'

import AppButton from '@/base/AppButton.vue'
import { useLesson } from '@/lesson/lesson'
import { sound } from '@/lesson/sound'
import { rules } from '@/rules/rules'
import { shape } from '@/shared/words'

/** Every running time, with its count against the type's own, and its sound. */
const lesson = useLesson()
const clock = ref(lesson.now())
const said = new Set<string>()
const started = computed(() => (lesson.state?.timers ?? []).filter((t) => t.running))
const running = computed(() =>
  started.value.map((t) => {
    const seconds = Math.max(0, (clock.value - t.startedMs) / 1000)
    return { ...t, seconds, stands: rules.timer(t.timer, t.item ?? '', seconds) }
  }),
)

const ticking = setInterval(() => {
  if (!started.value.length) return
  clock.value = lesson.now()
  for (const t of running.value) {
    const key = `${t.item} ${t.timer} ${t.startedMs} ${t.stands.state}`
    if (said.has(key)) continue
    said.add(key)
    if (t.stands.state === 'out') sound('passed')
    if (t.stands.state === 'within') sound('reached')
  }
}, 200)
onUnmounted(() => clearInterval(ticking))
</script>

<template>
  <div v-if="running.length" class="timers" role="timer">
    <span
      v-for="t in running"
      :key="t.timer + t.item"
      :class="['timer', t.stands.state]"
      :data-running="t.timer"
    >
      {{ shape(t.stands.state) }} {{ t.stands.label }}
      <b class="figure">{{ t.stands.shown }}</b>
      <span class="soft small">{{ t.stands.words }}</span>
      <AppButton
        v-if="!lesson.closed && !t.stands.boxed"
        class="quiet"
        @click="lesson.touch({ name: 'timer', item: t.item, timer: t.timer })"
      >
        stop
      </AppButton>
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
