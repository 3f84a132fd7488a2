<script setup lang="ts">
import { computed, onMounted, ref, shallowRef } from 'vue'

import AppButton from '@/base/AppButton.vue'
import AppInput from '@/base/AppInput.vue'
import type { PracticeRun, Schemas } from '@/schema/schemas'
import { ready, rules } from '@/rules/rules'
import TapeRuler from '@/shared/TapeRuler.vue'
import { clockWords, decisionWords, markWords } from '@/shared/words'
import GaugeStrip from './GaugeStrip.vue'
import StandControls from './StandControls.vue'
import StandOutside from './StandOutside.vue'
import TraceChart from './TraceChart.vue'
import { useRunning } from './running'
import type { Course } from './practice'

/** What a practice came to: levels, what was noticed, both traces, and the run again from any second. */
const props = defineProps<{
  course: Course
  run: PracticeRun
  score: Schemas['PracticeScore']
  waits?: boolean
  /** Somebody else's, or an old one: it is only read. */
  read?: boolean
}>()
const emit = defineEmits<{ again: []; leave: [] }>()
const running = useRunning()
const traces = shallowRef<number[][]>([])
const sound = shallowRef<number[][]>([])
const watching = ref(false)
const numbers = (rows: string[][]) =>
  props.course.panel.gauges.map((_, i) => rows.map((row) => Number(row[i])))
onMounted(async () => {
  await ready('rules')
  traces.value = numbers(await rules.standTrace(props.course, props.run))
  // Beside it the same hands on an engine that has nothing.
  if (props.score.answer.faults.length)
    sound.value = numbers(await rules.standTraceSound(props.course, props.run).catch(() => []))
})
function watchFrom(second: number) {
  watching.value = true
  running.watch(props.course, props.run, second)
}
const items = computed(() => props.score.state.items.filter((i) => i.level != null && i.level < 4))
const challenge = (id: string) => props.score.names[id] ?? id
const at = (ms: number) => clockWords(ms)
const marks = computed(() => [
  ...props.score.state.errors.map((e) => ({ second: e.atMs / 1000, words: e.label })),
  ...props.score.noticed.flatMap((n) => (n.seen === undefined ? [] : [{ second: n.seen, words: n.title }])),
])
/** Those that moved, the first always. */
const shown = computed(() =>
  props.course.panel.gauges
    .map((g, i) => ({ g, i }))
    .filter(({ i }) => i === 0 || !sound.value.length || traces.value[i]?.some((v, s) => differs(i, v, s)))
    .slice(0, 4),
)
const differs = (i: number, v: number, s: number) => {
  const g = props.course.panel.gauges[i]!
  return Math.abs(v - (sound.value[i]?.[s] ?? v)) > 0.03 * (g.to - g.from)
}
const looked = computed(() => props.score.looked.filter((l) => l.seconds > 0))
</script>

<template>
  <main class="debrief" data-part="answer">
    <section aria-label="What came of it">
      <p class="verdict">
        <b :class="score.answer.right ? 'within' : 'out'"
          >{{ score.answer.right ? '●' : '✕' }} {{ score.answer.words }}</b
        >
        <span v-if="!score.answer.right">
          Right is: <b>{{ decisionWords[score.answer.asked] }}</b>; you decided:
          {{ decisionWords[run.decision!] }}</span
        >
      </p>
      <p>
        <b class="figure big">{{ score.right }}</b> items right,
        <b class="figure big">{{ score.off }}</b> not, {{ clockWords(score.seconds * 1000)
        }}<template v-if="score.level != null">, together level {{ score.level }}</template>
      </p>
      <p v-if="waits" class="attend" data-part="waits">
        ▲ The school could not be reached: it waits on this device, and goes when you are here again.
      </p>
      <p v-else class="soft small">
        Run again from what was moved and called: this is what it comes to. Practice is no aircraft time.
      </p>
      <TapeRuler :state="score.state" class="tape" />
      <template v-if="score.answer.faults.length">
        <h3 class="ruled">What was wrong</h3>
        <p v-for="(f, i) in score.answer.faults" :key="f.title" data-part="fault">
          <b>{{ f.title }}.</b> {{ f.symptom }}; {{ f.why }}.
          <span class="soft">It shows in: {{ f.shows.join(', ').toLowerCase() }}.</span>{{ ' ' }}
          <b :class="score.noticed[i]?.said === undefined ? 'attend' : 'within'">
            {{ score.noticed[i]?.words }}</b
          >
        </p>
      </template>
      <template v-if="score.state.errors.length || items.length">
        <h3 class="ruled">To do better</h3>
        <p v-for="e in score.state.errors" :key="e.event" data-part="error">
          <b class="out">✕ {{ e.label }}</b> at {{ challenge(e.item!) }}, {{ at(e.atMs) }}
          <template v-if="e.words">: {{ e.words }}</template>
        </p>
        <p v-for="i in items" :key="i.id" :data-item="i.id">
          <b>{{ challenge(i.id) }}</b> {{ markWords[i.mark] ?? i.mark }}, level {{ i.level }}
          <span class="soft">{{ i.reasons[0]?.message }}</span>
        </p>
      </template>
      <template v-if="score.worn.length">
        <h3 class="ruled">Worn</h3>
        <p v-for="w in score.worn" :key="w" class="attend">▲ {{ w }}</p>
      </template>
      <template v-for="n in score.state.notes" :key="n.event">
        <p data-part="note">
          <b>Instructor:</b> {{ n.words }} <span class="soft">{{ at(n.atMs) }}</span>
        </p>
      </template>
      <p class="ways">
        <AppButton v-if="!read" data-action="again" @click="emit('again')">Once more</AppButton>
        <AppButton data-action="leave" @click="emit('leave')">{{ read ? 'Back' : 'Another one' }}</AppButton>
      </p>
    </section>
    <section aria-label="Traces">
      <template v-if="!watching">
        <h3 class="ruled">
          What the needles showed<span v-if="sound.length" class="soft">, and without the fault (thin)</span>
        </h3>
        <TraceChart
          v-for="s in shown"
          :key="s.i"
          :gauge="s.g"
          :values="traces[s.i] ?? []"
          :other="sound[s.i] ?? []"
          :marks="marks"
          @at="watchFrom"
        />
        <p class="soft small">Touch a trace to see the stand at that moment.</p>
      </template>
      <template v-else>
        <p class="ways">
          <b class="figure" data-part="clock">{{ clockWords(running.seconds.value * 1000) }}</b>
          <AppButton
            class="quiet"
            data-action="play"
            @click="running.pace.value = running.pace.value ? 0 : 1"
          >
            {{ running.pace.value ? 'pause' : 'play' }}
          </AppButton>
          <AppButton class="quiet" @click="watchFrom(Math.max(running.seconds.value - 10, 0))"
            >back 10 s</AppButton
          >
          <AppButton class="quiet" data-action="traces" @click="watching = false">traces</AppButton>
        </p>
        <AppInput
          type="range"
          min="0"
          :max="score.seconds"
          step="1"
          :value="running.seconds.value"
          aria-label="second"
          @change="watchFrom(Number(($event.target as HTMLInputElement).value))"
        />
        <GaugeStrip
          v-for="(g, i) in running.panel.value!.gauges"
          :key="g.id + g.engine"
          :gauge="g"
          :value="running.seen.value!.values[i] ?? 0"
          :beyond="running.seen.value!.beyond[i] ?? false"
          :tall="i === 0"
          :trace="running.trace(i)"
          :drawn="running.drawn.value"
        />
        <StandOutside
          :seen="running.seen.value!"
          :rotor="!running.panel.value!.lamps.some((l) => l.id === 'moves')"
        />
        <StandControls
          :panel="running.panel.value!"
          :stands="running.stands.value"
          :lamps="running.seen.value!.lamps"
          :wanted="[]"
          idle
        />
      </template>
      <h3 v-if="score.beside.length" class="ruled">Read, and measured from the run</h3>
      <table v-if="score.beside.length" class="beside">
        <thead>
          <tr>
            <th></th>
            <th>read</th>
            <th>measured</th>
            <th>differs</th>
          </tr>
        </thead>
        <tbody>
          <template v-for="(b, n) in score.beside" :key="n">
            <tr v-for="l in b.lines" :key="l.label">
              <td>{{ b.title }}: {{ l.label }}</td>
              <td class="figure">{{ l.typed ?? '–' }}</td>
              <td class="figure">{{ l.recorded }} {{ l.unit }}</td>
              <td class="figure" :class="{ attend: l.apart }">{{ l.differs ?? '' }}</td>
            </tr>
          </template>
        </tbody>
      </table>
      <template v-if="looked.length">
        <h3 class="ruled">Looked at</h3>
        <p v-for="l in looked" :key="l.gauge + l.engine" class="looked">
          <span>{{ l.label }}</span>
          <span class="bar"><i :style="{ width: `${l.share}%` }"></i></span>
          <span class="figure">{{ l.seconds.toFixed(0) }} s</span>
        </p>
      </template>
    </section>
  </main>
</template>

<style scoped>
.debrief {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 0 40px;
  padding: 16px 24px;
}

section {
  display: grid;
  gap: 8px;
  align-content: start;
}

.verdict {
  display: grid;
  font-size: 18px;
}

.verdict > b {
  font-size: 22px;
}

.big {
  font-size: 22px;
}

.tape {
  padding-inline: 0;
}

/* Beside the traces there is no room for the names of the phases; a touch tells them. */
.tape :deep(.head) {
  display: none;
}

[data-part='fault']::first-letter {
  text-transform: uppercase;
}

.ways {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  align-items: center;
}

.beside {
  border-collapse: collapse;
  width: 100%;
}

.beside th,
.beside td {
  text-align: right;
  padding: 2px 6px;
  border-bottom: 1px solid var(--fine);
  font-weight: 400;
}

.beside td:first-child {
  text-align: left;
}

.looked {
  display: grid;
  grid-template-columns: 150px minmax(0, 1fr) 60px;
  gap: 10px;
  align-items: center;
}

.bar {
  height: 8px;
  background: var(--fine);
}

.bar i {
  display: block;
  height: 100%;
  background: var(--ink);
}

@media (max-width: 1000px) {
  .debrief {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
