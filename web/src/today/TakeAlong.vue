<script setup lang="ts">
import { onMounted, onUnmounted, ref, shallowRef, watch } from 'vue'

import { Refused } from '@/api/client'
import { alongNow, takeAlong, type Along } from '@/device/along'
import { askToPersist } from '@/device/kept'
import { reach } from '@/device/reach'
import { aboard } from '@/device/update'
import { useLesson } from '@/lesson/lesson'
import { useOutbox } from '@/lesson/outbox'
import { useSession } from '@/shared/session'
import { agoWords } from '@/shared/words'

/** One touch before walking out: the next lessons with everything they need. */
const session = useSession()
const lesson = useLesson()
const outbox = useOutbox()
const along = shallowRef<Along | null>(null)
const problem = ref('')
const part = ref(-1)
const kept = ref(true)
let stop: AbortController | undefined
let settling: ReturnType<typeof setTimeout> | undefined

async function look() {
  along.value = await alongNow(session.current!).catch(() => null)
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
    await takeAlong(session.current!, lesson.bring, (now) => (part.value = now), stop.signal)
    kept.value = await askToPersist()
  } catch (e) {
    if (!stop.signal.aborted)
      problem.value = e instanceof Refused ? e.message : e instanceof Error ? e.message : String(e)
  }
  part.value = -1
  // Answers are written behind the screen.
  settling = setTimeout(() => void look(), 300)
}
const some = (n: number, what: string) => `${n} ${what}${n === 1 ? '' : 's'}`
</script>

<template>
  <div class="along" data-part="along">
    <button v-if="part < 0" data-action="take-along" @click="go">Take along</button>
    <button v-else data-action="stop-taking" @click="stop?.abort()">
      {{ Math.round(part * 100) }} %, stop
    </button>
    <p class="small">
      <template v-if="along?.at">
        <b>Aboard</b> as of {{ agoWords(along.at, session.current!.zone) }}:
        {{ some(along.lessons, 'next lesson') }}, {{ some(along.types, 'type') }},
        {{ some(along.students, 'student') }}, the weather.
        <span v-if="!along.missing.length" class="within">● Nothing is missing.</span>
      </template>
      <template v-else>Nothing is aboard for a lesson without the school.</template>
      <span v-if="along?.missing.length && along.at" class="attend">
        ▲ Missing: {{ along.missing.slice(0, 3).join('; ')
        }}{{ along.missing.length > 3 ? ` and ${along.missing.length - 3} more` : '' }}.
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

.along {
  display: grid;
  grid-template-columns: auto minmax(0, 1fr);
  gap: 12px;
  align-items: center;
  margin: 10px 0;
}
</style>
