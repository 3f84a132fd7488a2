<script setup lang="ts">
import { computed, onMounted, onUnmounted, ref, shallowRef } from 'vue'

import { api, take } from '@/api/client'
import AppButton from '@/base/AppButton.vue'
import type { Schemas } from '@/schema/schemas'
import { rules } from '@/rules/rules'
import ProblemNotice from '@/shared/ProblemNotice.vue'
import { useSession } from '@/shared/session'
import { useTrying } from '@/shared/trying'
import { clockWords } from '@/shared/words'
import PracticeList from './PracticeList.vue'
import ScenarioEditor from './ScenarioEditor.vue'
import { course as fetched, sendWaiting, type Course } from './practice'

/** Which aircraft, how, and what is met on it; what to repeat today; what was practised. */
defineProps<{ busy: boolean }>()
const emit = defineEmits<{
  begin: [course: Course, scenario: Schemas['StandScenario'], mode: string, from?: string]
  watch: [id: string]
}>()
const { problem, tried } = useTrying()
const session = useSession()
const types = shallowRef<Schemas['StandType'][]>([])
const course = shallowRef<Course | null>(null)
const portions = shallowRef<Schemas['PracticePortion'][]>([])
const done = shallowRef<Schemas['StorePracticeRun'][]>([])
const live = shallowRef<Schemas['LiveRun'][]>([])
const waiting = ref(0)
const chosen = ref('')
const mode = ref('guided')
/** How a portion is worked: as chosen, or where the stand would work it with the next mode. */
const worked = computed(
  () =>
    course.value?.modes.find((m, i, all) => m.worked && i >= all.findIndex((c) => c.id === mode.value))?.id ??
    '',
)
const writing = ref(false)
const choose = (type: string) =>
  tried(async () => {
    chosen.value = type
    // Drawn together: what is about to be touched does not move away.
    const [of, due] = await Promise.all([
      fetched(type),
      take(api.GET('/api/v1/stands/{type}/portions', { params: { path: { type } } })).catch(() => []),
    ])
    if (chosen.value !== type) return
    course.value = of
    portions.value = due
  })
const make = (difficulty: number) =>
  emit(
    'begin',
    course.value!,
    rules.standMake(course.value!, difficulty, Math.floor(Math.random() * 1e9)),
    mode.value,
  )
const asksLive = async () => {
  if (session.may('live-runs'))
    live.value = await take(api.GET('/api/v1/practice-live')).catch(() => live.value)
}
let asking: ReturnType<typeof setInterval> | undefined
onMounted(() => {
  asking = setInterval(() => void asksLive(), 3000)
  return tried(async () => {
    types.value = await take(api.GET('/api/v1/stands'))
    void asksLive()
    await choose(types.value[0]!.type)
    waiting.value = await sendWaiting().catch(() => 0)
    done.value = await take(api.GET('/api/v1/practice')).catch(() => [])
  })
})
onUnmounted(() => clearInterval(asking))
const bars = (n: number) => '▮'.repeat(n) + '▯'.repeat(5 - n)
</script>

<template>
  <ProblemNotice v-model="problem" />
  <ScenarioEditor
    v-if="writing && course"
    :course="course"
    @begin="emit('begin', course!, $event, mode)"
    @leave="writing = false"
  />
  <main v-else class="choice">
    <p class="types">
      <AppButton
        v-for="t in types"
        :key="t.type"
        :class="['quiet', { on: t.type === chosen }]"
        :data-type="t.type"
        @click="choose(t.type)"
      >
        {{ t.name }}
      </AppButton>
    </p>
    <div v-if="course" class="modes" role="group" aria-label="How it is practised">
      <AppButton
        v-for="m in course.modes"
        :key="m.id"
        :class="{ chosen: mode === m.id }"
        :aria-pressed="mode === m.id"
        :data-mode="m.id"
        @click="mode = m.id"
      >
        {{ m.label }}
      </AppButton>
      <p class="soft">{{ course.modes.find((m) => m.id === mode)?.words }}</p>
    </div>
    <p v-if="waiting" class="attend">
      ▲ {{ waiting }} practised without the school {{ waiting === 1 ? 'waits' : 'wait' }} on this device.
    </p>
    <section v-if="live.length" aria-label="On the stand now">
      <h3 class="ruled">On the stand now</h3>
      <AppButton v-for="r in live" :key="r.id" class="one" :data-watch="r.id" @click="emit('watch', r.id)">
        <b>{{ r.student }}</b>
        <span class="soft figure">{{ clockWords(r.seconds * 1000) }}</span>
        <span class="goal">{{ r.title }}, {{ r.mode }}</span>
      </AppButton>
    </section>
    <section v-if="portions.length" aria-label="To repeat today" data-part="portions">
      <h3 class="ruled">To repeat today, in ten minutes each</h3>
      <AppButton
        v-for="p in portions"
        :key="p.from"
        class="one"
        :disabled="busy"
        :data-portion="p.from"
        @click="emit('begin', course!, p.scenario, worked, p.from)"
      >
        <b>{{ p.title }}</b>
        <span class="soft figure">{{ p.minutes }} min</span>
        <span class="goal">{{ p.items.map((i) => i.challenge).join(', ') }}</span>
        <span class="goal soft small">{{ p.items[0]!.challenge }}: {{ p.items[0]!.why }}</span>
      </AppButton>
    </section>
    <section v-if="course" aria-label="Scenarios">
      <h3 class="ruled">Scenarios</h3>
      <AppButton
        v-for="s in course.scenarios"
        :key="s.id"
        class="one"
        :disabled="busy"
        :data-scenario="s.id"
        @click="emit('begin', course!, s, mode)"
      >
        <b>{{ s.title }}</b>
        <span class="soft" :aria-label="`difficulty ${s.difficulty} of 5`">{{ bars(s.difficulty) }}</span>
        <span class="goal">{{ s.goal }}</span>
      </AppButton>
      <p class="made">
        <b>Made up</b> <span class="soft">how hard:</span>
        <AppButton
          v-for="n in 5"
          :key="n"
          :aria-label="`difficulty ${n} of 5`"
          :disabled="busy"
          :data-make="n"
          @click="make(n)"
        >
          {{ n }}
        </AppButton>
        <AppButton class="quiet" data-action="write" @click="writing = true">write a scenario</AppButton>
      </p>
    </section>
    <section v-if="done.length" aria-label="Practised">
      <h3 class="ruled">Practised</h3>
      <PracticeList :runs="done" :named="session.may('live-runs')" />
    </section>
  </main>
</template>

<style scoped>
.choice {
  padding: 16px 24px;
  display: grid;
  gap: 14px;
  max-width: 900px;
}

.types,
.modes {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 10px;
  align-items: center;
}

.modes p {
  flex-basis: 100%;
}

.on {
  font-weight: 700;
  border-bottom: 2px solid var(--ink);
}

.one {
  display: grid;
  width: 100%;
  grid-template-columns: minmax(0, 1fr) auto;
  gap: 0 16px;
  text-align: left;
  border: 0;
  border-bottom: 1px solid var(--fine);
  padding: 10px 0;
}

.made {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px;
  padding: 12px 0;
}

.goal {
  grid-column: 1 / -1;
}
</style>
