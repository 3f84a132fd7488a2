<script setup lang="ts">
import { onMounted, onUnmounted, ref, shallowRef, watch } from 'vue'

import AppButton from '@/base/AppButton.vue'
import { lookAtCopy, makeCopy, type Copy } from '@/today/offlineCopy'
import { askToPersist } from '@/device/kept'
import { reach } from '@/device/reach'
import { aboard } from '@/device/update'
import { useLesson } from '@/lesson/lesson'
import { useOutbox } from '@/outbox/outbox'
import { useSession } from '@/shared/session'
import { agoWords, count } from '@/shared/words'
import { inWords } from '@/shared/errors'

/** One touch before walking out: the next lessons with everything they need. */
const session = useSession()
const lesson = useLesson()
const outbox = useOutbox()
const copy = shallowRef<Copy | null>(null)
const problem = ref('')
const part = ref(-1)
const kept = ref(true)
let stop: AbortController | undefined
let settling: ReturnType<typeof setTimeout> | undefined

async function look() {
  copy.value = await lookAtCopy(session.current!).catch(() => null)
}
onMounted(look)
watch(aboard, look)
onUnmounted(() => {
  stop?.abort()
  clearTimeout(settling)
})

async function go() {
  problem.value = ''
  stop = new AbortController()
  part.value = 0
  try {
    await makeCopy(session.current!, lesson.bring, (now) => (part.value = now), stop.signal)
    kept.value = await askToPersist()
  } catch (e) {
    if (!stop.signal.aborted) problem.value = inWords(e)
  }
  part.value = -1
  // Answers are written behind the screen.
  settling = setTimeout(() => void look(), 300)
}
</script>

<template>
  <div class="copy" data-part="copy">
    <AppButton v-if="part < 0" data-action="take-along" @click="go">Take along</AppButton>
    <AppButton v-else data-action="stop-taking" @click="stop?.abort()">
      {{ Math.round(part * 100) }} %, stop
    </AppButton>
    <p class="small">
      <template v-if="copy?.at">
        <b>Aboard</b> as of {{ agoWords(copy.at, session.current!.zone) }}:
        {{ count(copy.lessons, 'next lesson') }}, {{ count(copy.types, 'type') }},
        {{ count(copy.students, 'student') }}, the weather.
        <span v-if="!copy.missing.length" class="within">● Nothing is missing.</span>
      </template>
      <template v-else>Nothing is aboard for a lesson without the school.</template>
      <span v-if="copy?.missing.length && copy.at" class="attend">
        ▲ Missing: {{ copy.missing.slice(0, 3).join('; ')
        }}{{ copy.missing.length > 3 ? ` and ${copy.missing.length - 3} more` : '' }}.
      </span>
      <span v-if="!kept" class="soft">
        The browser does not promise to keep it: with little space left it may clear it.
      </span>
      <span
        v-if="outbox.waiting || outbox.refused.length || outbox.others"
        :class="outbox.trouble || reach.away || outbox.refused.length ? 'attend' : 'soft'"
        data-part="outbox"
        :data-local="outbox.waiting"
        >{{ outbox.words }}.</span
      >
      <span v-if="problem" class="problem" role="alert">{{ problem }}</span>
    </p>
  </div>
</template>

<style scoped>
button {
  min-height: 48px;
}

.copy {
  display: grid;
  grid-template-columns: auto minmax(0, 1fr);
  gap: 12px;
  align-items: center;
  margin: 10px 0;
}
</style>
