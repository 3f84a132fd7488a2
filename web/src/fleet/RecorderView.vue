<script setup lang="ts">
import { v7 as uuid } from 'uuid'
import { computed, reactive, ref, shallowRef } from 'vue'

import { api, sendText, take } from '@/api/client'
import AppButton from '@/base/AppButton.vue'
import AppSelect from '@/base/AppSelect.vue'
import type { Schemas } from '@/schema/schemas'
import RunUpTrace from '@/fleet/RunUpTrace.vue'
import FilePick from '@/shared/FilePick.vue'
import ProblemNotice from '@/shared/ProblemNotice.vue'
import SearchSelect from '@/shared/SearchSelect.vue'
import TopBar from '@/shared/TopBar.vue'
import { useSession } from '@/shared/session'
import { useTrying } from '@/shared/trying'
import { dayWords, outcomeTone, outcomeWords, shape } from '@/shared/words'

/** An engine recorder's file: the run-ups in it, measured, beside what was typed. */
const props = defineProps<{ registration: string }>()
const session = useSession()
const { problem, busy, tried } = useTrying()
type Map = Schemas['ExchangeRecorderMap']
const view = shallowRef<Schemas['RecordingView'] | null>(null)
const file = ref({ name: '', text: '' })
const lesson = ref('')
/** The map as it is being chosen; empty where a column is not there. */
const map = reactive<Map>({ type: '', time: '', engines: [] })
const mapping = ref(false)

const address = (asked: { map?: Map; lesson?: string }) => {
  const query = new URLSearchParams()
  if (asked.map) query.set('map', JSON.stringify(asked.map))
  if (asked.lesson) query.set('lesson', asked.lesson)
  return `/api/v1/aircraft/${encodeURIComponent(props.registration)}/recording?${query}`
}
function show(body: object, name: string, text: string) {
  const answer = body as Schemas['RecordingView']
  view.value = answer
  file.value = { name, text }
  Object.assign(map, { date: '', groundSpeed: '', first: '' }, structuredClone(answer.map))
  mapping.value = !!answer.problem
}
const again = (asked: { map?: Map; lesson?: string }) =>
  tried(async () => {
    const { name, text } = file.value
    show(await sendText(address(asked), 'POST', text), name, text)
  })
/** What of a map is asked for, column by column. */
const wanted = computed(() => [
  { key: 'time', words: 'time', of: map as Record<string, unknown> },
  { key: 'date', words: 'date, where it stands by itself', of: map as Record<string, unknown> },
  { key: 'groundSpeed', words: 'speed over ground', of: map as Record<string, unknown> },
  ...map.engines.flatMap((e, i) => {
    const of = e as unknown as Record<string, unknown>
    const engine = map.engines.length > 1 ? `engine ${i + 1}, ` : ''
    return [
      { key: 'speed', words: `${engine}speed`, of },
      { key: 'manifold', words: `${engine}manifold pressure`, of },
      { key: 'oilTemperature', words: `${engine}oil temperature`, of },
      { key: 'oilPressure', words: `${engine}oil pressure`, of },
    ]
  }),
])
const lessonWords = (id: string) => {
  const l = view.value?.lessons.find((l) => l.id === id)
  return l ? `${dayWords(l.on)}, with ${l.instructor}${l.status === 'signed' ? ', signed' : ''}` : ''
}
const own = (id: string) =>
  session.may('take-recorded') && !!view.value?.lessons.find((l) => l.id === id)?.own
const takeIn = (run: Schemas['RecordedRunUp'], c: Schemas['RecordedCheck']) =>
  tried(async () => {
    const body = {
      event: uuid(),
      item: c.item,
      check: c.check,
      engine: run.engine,
      reading: c.reading,
    }
    await take(api.POST('/api/v1/lessons/{id}/recorded', { params: { path: { id: run.lesson } }, body }))
    await again({ lesson: lesson.value || undefined })
  })
</script>

<template>
  <div class="place">
    <TopBar>
      <router-link :to="`/aircraft/${registration}`" class="back" aria-label="Back">‹</router-link>
      <b class="figure">{{ registration }}</b>
      <span class="soft">engine recorder</span>
    </TopBar>
    <ProblemNotice v-model="problem" />
    <main>
      <FilePick
        name="recording"
        words="Drop the recorder’s file here, or choose it: CSV with commas or semicolons"
        accept=".csv,.txt,.log"
        method="POST"
        :to="() => address({})"
        @begin="problem = ''"
        @answer="show"
        @refused="problem = $event"
      />
      <template v-if="view">
        <p class="read">
          <b>{{ file.name }}</b>
          <span v-if="!view.problem">{{
            view.runups.length === 1 ? 'One run-up was found.' : `${view.runups.length} run-ups were found.`
          }}</span>
          <AppButton class="quiet" data-action="columns" @click="mapping = !mapping">
            Which column is what
          </AppButton>
        </p>
        <p v-if="view.problem" class="attend" data-part="unread">▲ {{ view.problem }}</p>
        <form v-if="mapping" class="columns" @submit.prevent="again({ map })">
          <label v-for="w in wanted" :key="w.words">
            {{ w.words }}
            <AppSelect
              :model-value="String(w.of[w.key] ?? '')"
              @update:model-value="w.of[w.key] = $event"
              :name="w.words"
            >
              <option value="">not in the file</option>
              <option v-for="c in view.columns" :key="c" :value="c">{{ c }}</option>
            </AppSelect>
          </label>
          <label>
            tried first
            <AppSelect v-model="map.first" name="first">
              <option value="">left, or lane A</option>
              <option value="right">right, or lane B</option>
            </AppSelect>
          </label>
          <AppButton class="primary" type="submit" :disabled="busy" data-action="map"
            >Read it so, and keep this</AppButton
          >
        </form>
        <SearchSelect
          v-if="view.runups.length && view.lessons.length"
          v-model="lesson"
          class="of"
          name="of-lesson"
          label="beside the lesson"
          none="told from the file’s time"
          :options="view.lessons.map((l) => [l.id, lessonWords(l.id)] as const)"
          @update:model-value="again({ lesson: lesson || undefined })"
        />
        <section v-for="(run, n) in view.runups" :key="n" :data-runup="n">
          <h2>
            Run-up {{ n + 1 }}<template v-if="map.engines.length > 1">, engine {{ run.engine }}</template>
            <span class="soft small">{{ run.start }} to {{ run.end }}</span>
          </h2>
          <p class="soft small">
            {{ run.lesson ? `Beside the lesson of ${lessonWords(run.lesson)}.` : 'No lesson of that day.' }}
          </p>
          <RunUpTrace :seconds="run.seconds" :speed="run.speed" :unit="run.unit" />
          <div v-for="c in run.checks" :key="c.check" class="check" :data-check="c.check">
            <h3>
              {{ c.title }}
              <b :class="outcomeTone(c.verdict.outcome)"
                >{{ shape(outcomeTone(c.verdict.outcome)) }} {{ outcomeWords[c.verdict.outcome] }}</b
              >
              <span v-if="c.typed && c.typed.outcome !== c.verdict.outcome" class="attend small"
                >typed it was {{ outcomeWords[c.typed.outcome]?.toLowerCase() }}</span
              >
            </h3>
            <p v-for="f in c.verdict.findings" :key="f.code + f.side" class="small">{{ f.message }}</p>
            <table class="figures">
              <thead>
                <tr>
                  <th></th>
                  <th>recorded</th>
                  <th v-if="c.typed">typed</th>
                  <th v-if="c.typed">differs by</th>
                </tr>
              </thead>
              <tbody>
                <tr v-for="b in c.beside" :key="b.label">
                  <td>{{ b.label }}</td>
                  <td class="figure">{{ b.recorded }} {{ b.unit }}</td>
                  <td v-if="c.typed" class="figure">{{ b.typed ?? '' }}</td>
                  <td v-if="c.typed" :class="['figure', { attend: b.apart }]">
                    {{ b.apart ? '▲ ' : '' }}{{ b.differs ?? '' }}
                  </td>
                </tr>
              </tbody>
            </table>
            <p v-if="c.taken" class="within small">● taken into the lesson</p>
            <AppButton
              v-else-if="c.item && own(run.lesson)"
              class="quiet"
              :disabled="busy"
              :data-take="c.check"
              @click="takeIn(run, c)"
            >
              Take it into the lesson
            </AppButton>
            <p v-else-if="!c.item && run.lesson" class="soft small">The lesson’s list has no such check.</p>
          </div>
        </section>
        <p v-if="!view.problem && !view.runups.length" class="soft">
          No run-up was found: nowhere the engine was warm, the aircraft stood, and the speed of the run-up
          was held.
        </p>
        <details v-if="view.skipped.length">
          <summary>{{ view.skipped.length }} lines could not be used as they are</summary>
          <p v-for="s in view.skipped.slice(0, 50)" :key="s.line" class="small">
            line {{ s.line }}: {{ s.why }}
          </p>
        </details>
        <p class="soft small">{{ view.caution }}</p>
      </template>
      <p v-else class="soft">
        The run-ups in it are found and their checks measured from the traces, judged by the same limits as
        what is typed, and set beside it. Nothing goes into a lesson before its instructor takes it.
      </p>
    </main>
  </div>
</template>

<style scoped>
main {
  padding: 12px 24px;
  max-width: 1000px;
}

.back {
  font-size: 24px;
  text-decoration: none;
}

h2 {
  font-size: 18px;
  font-weight: 700;
  margin-top: 14px;
  border-bottom: 1px solid var(--ink);
}

h3 {
  font-size: 15px;
  font-weight: 700;
  display: flex;
  flex-wrap: wrap;
  gap: 4px 14px;
  align-items: baseline;
}

.read,
h2 {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 12px;
  align-items: baseline;
}

.columns {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(220px, 1fr));
  gap: 10px;
  align-items: end;
  padding: 8px 0;
}

.columns select {
  width: 100%;
}

.of {
  max-width: 420px;
}

.check {
  padding: 8px 0;
  border-bottom: 1px solid var(--fine);
}

.figures {
  border-collapse: collapse;
  min-width: min(100%, 420px);
}

.figures th {
  text-align: right;
  font-weight: 400;
  color: var(--soft);
  font-size: 13px;
}

.figures td {
  padding: 2px 14px 2px 0;
}

.figures td.figure,
.figures th {
  text-align: right;
}
</style>
