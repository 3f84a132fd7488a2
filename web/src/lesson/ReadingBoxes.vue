<script setup lang="ts">
import { computed, onUnmounted, ref } from 'vue'

import AppButton from '@/base/AppButton.vue'
import AppInput from '@/base/AppInput.vue'
import NumberBox from '@/lesson/NumberBox.vue'
import NumberPad from '@/lesson/NumberPad.vue'
import { useLesson } from '@/lesson/lesson'
import type { Draft, Panel } from '@/schema/schemas'
import { rules } from '@/rules/rules'
import BandStrip from '@/shared/BandStrip.vue'

/** The boxes of a check, in the order one reads them off. */
const props = defineProps<{ panel: Panel; draft: Draft; item: string }>()
/** On a touch device the large keys are there at once, and the device's own stay away. */
const pad = ref(matchMedia('(pointer: coarse)').matches)
const emit = defineEmits<{ write: [path: string, value: string | boolean] }>()
const lesson = useLesson()
const clock = ref(lesson.now())

type Box = Panel['boxes'][number]
/** The boxes; as long as none is another, the same ones, so that only what was typed is drawn anew. */
const boxes = computed<Box[]>((before) =>
  JSON.stringify(before) === JSON.stringify(props.panel.boxes) ? before! : props.panel.boxes,
)
const kind = (name: string) => computed(() => boxes.value.filter((b) => b.kind === name))
const numbers = kind('number')
const days = kind('day')
const toggles = kind('flag')
const choices = kind('choice')
const stripOf = (path: string) => props.panel.strips.find((s) => s.path === path)
/** Numbers of one gauge on two engines stand in pairs; the others alone. */
const pairs = computed(() =>
  Object.entries(
    Object.groupBy(
      numbers.value.filter((b) => b.side),
      (b) => b.row!,
    ),
  ),
)
const single = computed(() =>
  numbers.value.filter((b) => !b.side && (!b.optional || b.taken === 'timed' || b.beside)),
)
/** Where a check has scales its numbers stand in rows, else side by side. */
const inRows = computed(() => props.panel.strips.length > 0)
const nameOf = (b: Box) =>
  stripOf(b.path)?.label ??
  (b.row && boxes.value.length > 8 ? `${b.label} ${b.row.split(' ').at(-1)}` : b.label)
const running = computed(() => (lesson.state?.timers ?? []).filter((t) => t.running && t.item === props.item))

const ticking = setInterval(() => (clock.value = lesson.now()), 100)
onUnmounted(() => clearInterval(ticking))

/** The seconds that the box's timer has run, while it runs. */
function counting(path: string) {
  const t = running.value.find((r) => r.timer === path)
  return t && (clock.value - t.startedMs) / 1000
}
function tone(path: string) {
  const seconds = counting(path)
  return seconds === undefined ? '' : rules.timer(path, props.item, seconds).state
}

/** Starts a timer, or stops it and gives its seconds to the box. */
async function time(path: string) {
  await lesson.touch({ name: 'timer', item: props.item, timer: path })
  const last = (lesson.state?.timers ?? []).findLast((t) => t.timer === path && t.item === props.item)
  if (last && !last.running && last.seconds != null) emit('write', path, String(last.seconds))
}
const toggle = (path: string) => emit('write', path, props.draft[path] !== true)
</script>

<template>
  <div class="boxes">
    <div v-for="c in choices" :key="c.path" class="choice">
      <span class="soft">{{ c.label }}</span>
      <AppButton
        v-for="v in c.choices"
        :key="v"
        :class="['quiet', { chosen: draft[c.path] === v }]"
        :aria-pressed="draft[c.path] === v"
        @click="emit('write', c.path, v)"
      >
        {{ v }}
      </AppButton>
    </div>
    <div :class="inRows ? 'rows' : 'numbers'">
      <div v-for="b in single" :key="b.path" :class="inRows ? 'scaled' : 'box'">
        <label class="name" :for="b.path">{{ nameOf(b) }}</label>
        <BandStrip v-if="stripOf(b.path)" :strip="stripOf(b.path)!" bare />
        <span v-else-if="inRows"></span>
        <NumberBox
          :box="b"
          :pad="pad"
          :value="counting(b.path)?.toFixed(1) ?? draft[b.path]"
          :running="counting(b.path) !== undefined"
          :tone="tone(b.path)"
          :wrong="!!panel.wrong[b.path]"
          :missing="panel.missing.includes(b.path)"
          :none="draft[`${b.path}!`] === true"
          @write="emit('write', b.path, $event)"
          @time="time(b.path)"
          @none="toggle(`${b.path}!`)"
        />
      </div>
    </div>
    <div v-for="[row, sides] in pairs" :key="row" class="pair">
      <span
        >{{ row }} <span class="soft small">{{ sides![0]!.unit }}</span></span
      >
      <label v-for="b in sides" :key="b.path" class="entry">
        <span class="soft small">{{ b.side }}</span>
        <AppInput
          :id="b.path"
          type="text"
          :inputmode="pad ? 'none' : 'decimal'"
          autocomplete="off"
          :value="draft[b.path]"
          :aria-invalid="!!panel.wrong[b.path]"
          :data-missing="panel.missing.includes(b.path) || undefined"
          @input="emit('write', b.path, ($event.target as HTMLInputElement).value)"
        />
      </label>
    </div>
    <label v-for="b in days" :key="b.path" class="day"
      >{{ b.label }}
      <AppInput
        :id="b.path"
        type="date"
        :name="b.path"
        :value="draft[b.path]"
        @input="emit('write', b.path, ($event.target as HTMLInputElement).value)"
    /></label>
    <p v-for="(why, path) in panel.wrong" :key="path" class="problem">{{ why }}</p>
    <div class="toggles">
      <AppButton
        v-for="b in toggles"
        :key="b.path"
        :data-flag="b.path"
        :class="{ chosen: draft[b.path] === true }"
        :aria-pressed="draft[b.path] === true"
        :disabled="b.closed"
        @click="toggle(b.path)"
      >
        {{ b.label }}
      </AppButton>
      <AppButton
        v-for="r in panel.rows.filter((r) => r.open < r.most)"
        :key="r.name"
        @click="emit('write', `${r.name}#`, String(r.open + 1))"
      >
        + {{ r.label }}
      </AppButton>
    </div>
    <NumberPad v-if="numbers.length" v-model="pad" />
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
  gap: 0 10px;
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
  font: 700 20px var(--figures);
  background: transparent;
  min-height: 34px;
}

.day input {
  font: 700 20px var(--figures);
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
