<script setup lang="ts">
import { computed, onUnmounted, ref } from 'vue'

import type { CheckDefinition } from '../api/client'
import { useLesson } from '../stores/lesson'
import BandStrip from './BandStrip.vue'
import NumberBox from './NumberBox.vue'
import NumberPad from './NumberPad.vue'
import { timerTone } from './timing'
import {
  type Box,
  boxesOf,
  cannotBe,
  rowCount,
  type Built,
  type Draft,
  type GaugeName,
  type Strip,
} from './reading'

/** The boxes of a check, in the order one reads them off. */
const props = defineProps<{
  def: CheckDefinition
  draft: Draft
  gauges: GaugeName[]
  built: Built
  /** Scales of the readings; a number with one stands beside it. */
  strips: Strip[]
  item: string
}>()
const lesson = useLesson()
const clock = ref(lesson.now())

const all = computed(() => boxesOf(props.def, props.draft, props.gauges))
const numbers = computed(() => all.value.filter((b) => b.field.kind === 'number'))
const stripOf = (path: string) => props.strips.find((s) => s.path === path)
/** Where a check has scales its numbers stand in rows, else side by side. */
const single = computed(() =>
  props.def.namedReading?.each?.length
    ? []
    : numbers.value.filter((b) => !b.field.optional || b.field.taken === 'timed'),
)
const inRows = computed(() => props.strips.length > 0)
const nameOf = (b: Box) =>
  stripOf(b.path)?.label ??
  (b.row && all.value.length > 8 ? `${b.label} ${b.row.split(' ').at(-1)}` : b.label)
/** Numbers of two engines, side by side. */
const pairs = computed(() =>
  props.def.namedReading?.each?.length
    ? props.gauges.map((g) => ({ ...g, boxes: numbers.value.filter((b) => b.path.startsWith(`${g.id}.`)) }))
    : [],
)
const days = computed(() => all.value.filter((b) => b.field.kind === 'day'))
const toggles = computed(() => all.value.filter((b) => b.field.kind === 'flag'))
const choices = computed(() => all.value.filter((b) => b.field.kind === 'choice'))
const rows = computed(() => props.def.fields.filter((f) => f.kind === 'rows'))
const running = computed(() => (lesson.state?.timers ?? []).filter((t) => t.running && t.item === props.item))

const ticking = setInterval(() => (clock.value = lesson.now()), 100)
onUnmounted(() => clearInterval(ticking))

const isRunning = (path: string) => running.value.find((t) => t.timer === path)
const seconds = (path: string) => {
  const t = isRunning(path)
  return t ? ((clock.value - t.startedMs) / 1000).toFixed(1) : ''
}

/** How a running time stands against the type's own: enough, or too long. */
function tone(path: string, timer?: string) {
  const t = isRunning(path)
  return t ? timerTone((clock.value - t.startedMs) / 1000, durationOf(timer)) : ''
}
const durationOf = (timer?: string) => (lesson.view?.book.type.durations ?? []).find((d) => d.id === timer)

/** Starts a timer, or stops it and gives its seconds to the box. */
async function time(path: string) {
  const draft = props.draft
  const kind = isRunning(path) ? 'timer-stopped' : 'timer-started'
  await lesson.touch([{ kind, payload: { timer: path, item: props.item } }])
  if (kind === 'timer-stopped') {
    const t = (lesson.state?.timers ?? []).findLast(
      (t) => t.timer === path && t.item === props.item && !t.running,
    )
    if (t?.seconds != null) draft[path] = String(t.seconds)
  }
}

function toggle(path: string) {
  const draft = props.draft
  draft[path] = !draft[path]
}

function set(path: string, value: string | boolean) {
  const draft = props.draft
  draft[path] = value
}
</script>

<template>
  <div class="boxes">
    <div v-for="c in choices" :key="c.path" class="choice">
      <span class="soft">{{ c.label }}</span>
      <button
        v-for="v in c.field.choices"
        :key="v"
        type="button"
        :class="['quiet', { chosen: draft[c.path] === v }]"
        :aria-pressed="draft[c.path] === v"
        @click="set(c.path, v)"
      >
        {{ v }}
      </button>
    </div>
    <div :class="inRows ? 'rows' : 'numbers'">
      <div v-for="b in single" :key="b.path" :class="inRows ? 'scaled' : 'box'">
        <label class="name" :for="b.path">{{ nameOf(b) }}</label>
        <BandStrip v-if="stripOf(b.path)" :strip="stripOf(b.path)!" bare />
        <span v-else-if="inRows"></span>
        <NumberBox
          :box="b"
          :value="isRunning(b.path) ? seconds(b.path) : draft[b.path]"
          :running="!!isRunning(b.path)"
          :tone="tone(b.path, b.field.timer)"
          :disabled="cannotBe(b.field, draft)"
          :wrong="!!built.wrong[b.path]"
          :none="draft[`${b.path}!`] === true"
          @write="set(b.path, $event)"
          @time="time(b.path)"
          @none="toggle(`${b.path}!`)"
        />
      </div>
    </div>
    <div v-for="p in pairs" :key="p.id" class="pair">
      <span
        >{{ p.label }} <span class="soft small">{{ p.unit }}</span></span
      >
      <label v-for="b in p.boxes" :key="b.path" class="entry">
        <span class="soft small">{{ b.field.name }}</span>
        <input
          :id="b.path"
          type="text"
          inputmode="decimal"
          autocomplete="off"
          :value="draft[b.path]"
          :aria-invalid="!!built.wrong[b.path]"
          @input="set(b.path, ($event.target as HTMLInputElement).value)"
        />
      </label>
    </div>
    <label v-for="b in days" :key="b.path" class="day"
      >{{ b.label }}
      <input
        :id="b.path"
        type="date"
        :name="b.path"
        :value="draft[b.path]"
        @input="set(b.path, ($event.target as HTMLInputElement).value)"
    /></label>
    <p v-for="(why, path) in built.wrong" :key="path" class="problem">{{ why }}</p>
    <div class="toggles">
      <button
        v-for="b in toggles"
        :key="b.path"
        type="button"
        :data-flag="b.path"
        :class="{ chosen: draft[b.path] === true }"
        :aria-pressed="draft[b.path] === true"
        :disabled="cannotBe(b.field, draft)"
        @click="toggle(b.path)"
      >
        {{ b.label }}
      </button>
      <button
        v-for="f in rows"
        :key="f.name"
        type="button"
        @click="set(`${f.name}#`, String(Math.min(f.atMost ?? 1, rowCount(f, draft) + 1)))"
      >
        + {{ f.label }}
      </button>
    </div>
    <NumberPad v-if="numbers.length" />
  </div>
</template>

<style scoped>
.boxes {
  display: grid;
  gap: 4px;
}

.choice {
  display: flex;
  gap: 8px;
  align-items: center;
}

.choice .quiet {
  min-height: 32px;
}

.rows {
  display: grid;
  grid-template-columns: 118px minmax(0, 1fr) 104px auto;
  gap: 4px 10px;
}

.scaled .name {
  font-size: 15px;
  color: var(--ink);
  white-space: normal;
}

.scaled {
  display: grid;
  grid-template-columns: subgrid;
  grid-column: 1 / -1;
  align-items: center;
  line-height: 1.15;
}

.pair {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 150px 150px;
  gap: 10px;
  align-items: center;
}

.scaled :deep(.entry),
.pair .entry {
  border: 1px solid var(--ink);
  border-radius: 3px;
  padding: 0 8px;
}

.pair .entry {
  display: flex;
  align-items: baseline;
  gap: 6px;
}

.pair input {
  border: 0;
  padding: 0;
  font: 700 20px var(--mono);
  background: transparent;
  min-height: 34px;
}

.day input {
  font: 700 20px var(--mono);
  color: var(--ink);
  background: var(--sheet);
  border: 1px solid var(--ink);
  border-radius: 3px;
  padding: 6px 10px;
  display: block;
}

.numbers {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(84px, 1fr));
  gap: 8px;
}

.box {
  position: relative;
  border: 1px solid var(--ink);
  border-radius: 3px;
  padding: 4px 5px;
}

.name {
  display: block;
  font-size: 12px;
  color: var(--soft);
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
}

.toggles {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}

.toggles button {
  scroll-margin-bottom: 90px;
  min-height: 44px;
  padding: 4px 12px;
  border-color: var(--hair);
}

@media (pointer: coarse) {
  .toggles button {
    min-height: 56px;
  }
}
</style>
