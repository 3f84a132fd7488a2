<script setup lang="ts">
import { computed, onUnmounted, ref } from 'vue'

import AppButton from '@/base/AppButton.vue'
import { useLesson } from '@/lesson/lesson'
import { clockWords } from '@/shared/words'

/**
 * While the aircraft moves: nothing to read but the place and the time, and
 * three things to touch. The end of the phase releases it, or a long press.
 */
defineProps<{ clock: number }>()
const emit = defineEmits<{ mark: [name: 'noted-error' | 'noted-finding']; leave: [] }>()
const lesson = useLesson()
const phase = computed(() => lesson.state?.phases.find((p) => p.id === lesson.live?.state.phase)?.title ?? '')
const pressed = ref('')
const counts = computed(() => ({
  error: lesson.state?.errors.filter((e) => e.code === 'noted').length ?? 0,
  finding: lesson.state?.findings.filter((f) => f.noted).length ?? 0,
}))

/** A press of a second and a half leaves: no brush of a hand does. */
const holdFor = 1500
const holding = ref(false)
let timer: ReturnType<typeof setTimeout> | undefined
function hold() {
  holding.value = true
  timer = setTimeout(() => emit('leave'), holdFor)
}
function letGo() {
  holding.value = false
  clearTimeout(timer)
}
onUnmounted(letGo)

function note(name: 'noted-error' | 'noted-finding') {
  pressed.value = name
  setTimeout(() => (pressed.value = ''), 700)
  emit('mark', name)
}
</script>

<template>
  <section class="calm" aria-label="Eyes outside" data-part="calm">
    <p class="phase">
      {{ phase }} <span class="figure">{{ clockWords(clock) }}</span>
    </p>
    <p class="outside">Eyes outside</p>
    <AppButton
      :class="{ chosen: pressed === 'noted-error' }"
      data-mark="noted-error"
      @click="note('noted-error')"
    >
      Error<small v-if="counts.error">{{ counts.error }} to be said later</small>
    </AppButton>
    <AppButton
      :class="{ chosen: pressed === 'noted-finding' }"
      data-mark="noted-finding"
      @click="note('noted-finding')"
    >
      Finding<small v-if="counts.finding">{{ counts.finding }} to be said later</small>
    </AppButton>
    <AppButton class="primary" data-action="stopped" @click="emit('leave')">
      Stop<small>the aircraft stands</small>
    </AppButton>
    <AppButton
      :class="['quiet', { holding }]"
      data-action="hold-to-leave"
      @pointerdown="hold"
      @pointerup="letGo"
      @pointerleave="letGo"
      @pointercancel="letGo"
      @keydown.space="hold"
      @keyup.space="letGo"
    >
      Hold to go back to the list
    </AppButton>
  </section>
</template>

<style scoped>
.calm {
  position: fixed;
  inset: 0;
  z-index: 10;
  background: var(--paper);
  display: grid;
  grid-template: auto minmax(0, 1fr) minmax(96px, 22vh) minmax(120px, 26vh) auto / 1fr 1fr;
  gap: 16px;
  padding: 16px 24px;
}

.phase {
  grid-column: 1 / 3;
  font-size: 22px;
  display: flex;
  justify-content: space-between;
}

.outside {
  grid-column: 1 / 3;
  place-self: center;
  font-size: clamp(30px, 8vw, 72px);
  font-weight: 700;
  color: var(--soft);
}

button {
  font-size: 30px;
}

.primary,
.quiet {
  grid-column: 1 / 3;
}

.primary {
  font-size: 40px;
}

.quiet {
  font-size: 18px;
  min-height: 72px;
  border-color: var(--hair);
  background: linear-gradient(var(--live), var(--live)) no-repeat left / 0 100%;
}

.holding {
  background-size: 100% 100%;
  transition: background-size 1.5s linear;
}

small {
  display: block;
  font-size: 15px;
  font-weight: 400;
}
</style>
