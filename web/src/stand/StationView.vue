<script setup lang="ts">
import { computed, onMounted, onUnmounted, ref, shallowRef } from 'vue'

import { api, take } from '@/api/client'
import AppButton from '@/base/AppButton.vue'
import AppInput from '@/base/AppInput.vue'
import AppSelect from '@/base/AppSelect.vue'
import type { Schemas } from '@/schema/schemas'
import { ready } from '@/rules/rules'
import ProblemNotice from '@/shared/ProblemNotice.vue'
import TapeRuler from '@/shared/TapeRuler.vue'
import TopBar from '@/shared/TopBar.vue'
import { useTrying } from '@/shared/trying'
import { clockWords, markWords } from '@/shared/words'
import GaugeStrip from './GaugeStrip.vue'
import StandControls from './StandControls.vue'
import StandOutside from './StandOutside.vue'
import { course as fetched, type Course } from './practice'
import { useRunning } from './running'

/** What the stream of a student's stand tells. */
type News = {
  run?: Schemas['PracticeRun']
  deeds: Schemas['PracticeDeed'][]
  tick: number
  frozen: boolean
  ended: boolean
}
/** The instructor's station: a student's stand as it is worked, and what can be done to it. */
const props = defineProps<{ id: string }>()
const { problem, busy, tried } = useTrying()
const running = useRunning()
const { panel, seen, guide, seconds, drawn } = running
const course = shallowRef<Course | null>(null)
const run = shallowRef<Schemas['PracticeRun'] | null>(null)
const frozen = ref(false)
const ended = ref(false)
const done = ref('')
const fault = ref('')
const severity = ref(0.8)
const engine = ref(1)
const note = ref('')
const oat = ref(15)
const wind = ref(8)
let source: EventSource | undefined

function heard(news: News) {
  frozen.value = news.frozen
  running.frozen.value = news.frozen
  if (news.run) {
    run.value = news.run
    running.follow(course.value!, { ...news.run, deeds: news.deeds, ticks: news.tick })
    oat.value = news.run.scenario.day.oatC
    wind.value = news.run.scenario.day.windKt
  } else running.fed(news.deeds, news.tick)
  if (news.ended) {
    ended.value = true
    source?.close()
  }
}
onMounted(() =>
  tried(async () => {
    await ready('rules')
    const runs = await take(api.GET('/api/v1/practice-live'))
    const mine = runs.find((r) => r.id === props.id)
    if (!mine) throw new Error('This practice has ended.')
    course.value = await fetched(mine.type)
    source = new EventSource(`/api/v1/practice-live/${props.id}/stream`)
    source.addEventListener('news', (e) => heard(JSON.parse((e as MessageEvent<string>).data) as News))
    source.onerror = () => (problem.value = 'The student’s stand is not heard of just now.')
    source.onopen = () => (problem.value = '')
  }),
)
onUnmounted(() => source?.close())

const wish = (body: Schemas['LiveWishInputBody'], said: string) =>
  tried(async () => {
    await take(api.POST('/api/v1/practice-live/{id}/wishes', { params: { path: { id: props.id } }, body }))
    done.value = said
  })
const chosen = computed(() => course.value?.faults.find((f) => f.id === fault.value))
const slip = () =>
  wish(
    { change: { slip: { fault: fault.value, severity: severity.value, engine: engine.value } } },
    `Slipped in: ${chosen.value!.title}.`,
  )
const weather = () =>
  wish(
    { change: { weather: { oatC: oat.value, dewPointC: Math.min(oat.value - 2, 10), windKt: wind.value } } },
    `Weather: ${oat.value} °C, ${wind.value} kt.`,
  )
const passes = (what: 'person' | 'aircraft') =>
  wish({ change: { outside: { what, from: 0, for: 20 } } }, 'For twenty seconds.')
const mark = (name: string) =>
  wish({ call: { name, item: guide.value!.item } }, `${markWords[name]}: ${guide.value!.challenge}.`)
function write() {
  void wish({ call: { name: 'note', item: guide.value!.item, words: note.value } }, 'Written down.')
  note.value = ''
}
</script>

<template>
  <div class="place">
    <TopBar>
      <b>Station</b>
      <template v-if="run">
        <span>{{ course!.type.name }}</span>
        <span>{{ run.scenario.title }}</span>
        <span class="soft">{{ run.mode }}</span>
      </template>
    </TopBar>
    <ProblemNotice v-model="problem" />
    <p v-if="ended" class="ended" data-part="ended">
      The student has decided. <router-link :to="`/stand/${id}`">See what came of it</router-link>
    </p>
    <main v-if="panel && seen" class="sided station">
      <section aria-label="The student’s stand">
        <p class="clock">
          <b class="figure" data-part="clock">{{ clockWords(seconds * 1000) }}</b>
          <b v-if="guide" data-part="student-live">{{ guide.number }} {{ guide.challenge }}</b>
          <span v-if="frozen" class="attend">▲ held</span>
        </p>
        <GaugeStrip
          v-for="(g, i) in panel.gauges"
          :key="g.id + g.engine"
          :gauge="g"
          :value="seen.values[i] ?? 0"
          :beyond="seen.beyond[i] ?? false"
          :tall="i === 0"
          :trace="running.trace(i)"
          :drawn="drawn"
        />
        <TapeRuler v-if="guide" class="flow" :state="guide.state" :live="guide.item" />
        <StandOutside :seen="seen" :rotor="!panel.lamps.some((l) => l.id === 'moves')" />
        <StandControls :panel="panel" :stands="running.stands.value" :lamps="seen.lamps" :wanted="[]" idle />
      </section>
      <aside v-if="!ended" class="fields" aria-label="What you do to it">
        <p v-if="done" class="within" role="status" data-part="wished">● {{ done }}</p>
        <h3 class="ruled">Slip a fault in</h3>
        <AppSelect v-model="fault" aria-label="Fault" data-pick="fault">
          <option value="" disabled>which</option>
          <option v-for="f in course!.faults" :key="f.id" :value="f.id">{{ f.title }}</option>
        </AppSelect>
        <p v-if="chosen" class="soft small">{{ chosen.symptom }}; right is {{ chosen.decision }}.</p>
        <span class="row">
          <label
            >how bad
            <AppInput v-model.number="severity" type="range" min="0" max="1" step="0.1" aria-label="how bad"
          /></label>
          <AppSelect v-if="course!.type.engines > 1" v-model="engine" aria-label="Engine">
            <option v-for="n in course!.type.engines" :key="n" :value="n">engine {{ n }}</option>
          </AppSelect>
          <AppButton class="primary" :disabled="!fault || busy" data-action="slip" @click="slip">
            Slip it in
          </AppButton>
        </span>
        <h3 class="ruled">Hold, and outside</h3>
        <span class="row">
          <AppButton
            :class="{ chosen: frozen }"
            data-action="freeze"
            @click="wish({ freeze: !frozen }, frozen ? 'It goes on.' : 'Held.')"
          >
            {{ frozen ? 'Let go on' : 'Hold the stand' }}
          </AppButton>
          <AppButton data-action="person" @click="passes('person')">Somebody walks by</AppButton>
          <AppButton data-action="aircraft" @click="passes('aircraft')">Aircraft behind</AppButton>
        </span>
        <span class="row">
          <label
            >°C <AppInput v-model.number="oat" type="number" min="-40" max="50" aria-label="temperature"
          /></label>
          <label
            >wind from ahead, kt
            <AppInput v-model.number="wind" type="number" min="-40" max="60" aria-label="wind"
          /></label>
          <AppButton data-action="weather" @click="weather">Change the weather</AppButton>
        </span>
        <template v-if="guide">
          <h3 class="ruled">Mark {{ guide.challenge }}</h3>
          <span class="row">
            <AppButton v-for="m in course!.marks" :key="m" :data-give="m" @click="mark(m)">
              {{ markWords[m] }}
            </AppButton>
          </span>
          <span class="row">
            <AppInput
              v-model="note"
              type="text"
              maxlength="500"
              placeholder="a note for the debrief"
              aria-label="Note"
            />
            <AppButton :disabled="!note" data-action="note" @click="write">Write down</AppButton>
          </span>
          <p v-for="e in guide.state.errors" :key="e.event" class="out">✕ {{ e.label }}</p>
          <p v-for="n in guide.state.notes" :key="n.event" class="soft">{{ n.words }}</p>
        </template>
        <p class="soft small">
          What you change is part of the run, and is told in its debrief. A stand is no aircraft.
        </p>
      </aside>
    </main>
  </div>
</template>

<style scoped>
.station {
  grid-template-columns: minmax(0, 1.2fr) minmax(0, 1fr);
}

section,
aside {
  display: grid;
  gap: 8px;
  align-content: start;
}

.clock {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 12px;
  align-items: center;
}

.clock b {
  font-size: 20px;
}

.flow {
  padding-inline: 0;
  border: 0;
}

.flow :deep(.phase:not(.here) .head) {
  visibility: hidden;
}

.ended {
  padding: 10px 24px;
  font-weight: 700;
}

input[type='text'] {
  flex: 1 1 200px;
}

@media (max-width: 1000px) {
  .station {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
