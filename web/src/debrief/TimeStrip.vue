<script setup lang="ts">
import { computed, onMounted, onUnmounted, ref } from 'vue'

import type { Schemas } from '@/schema/schemas'
import { rangeOf } from '@/shared/scale'
import TapeTick from '@/shared/TapeTick.vue'
import { clockWords, markWords } from '@/shared/words'

/**
 * The lesson in time: phases, errors and findings, a tick an item, engine
 * speeds, timers, readings in their bands, weather; drag through it.
 */
const props = defineProps<{ strip: Schemas['LessonStrip']; names: Record<string, string> }>()
const at = defineModel<number | null>({ required: true })
const svg = ref<SVGSVGElement>()
const wide = ref(1200)
const resized = new ResizeObserver(() => (wide.value = svg.value?.clientWidth || 1200))
onMounted(() => resized.observe(svg.value!))
onUnmounted(() => resized.disconnect())

const edge = 10
const x = (ms: number) =>
  edge + ((wide.value - 2 * edge) * Math.min(ms, props.strip.endMs)) / props.strip.endMs
const ms = (left: number) =>
  Math.max(0, Math.min(1, (left - edge) / (wide.value - 2 * edge))) * props.strip.endMs

/** Names of phases where they have room. */
const phases = computed(() =>
  props.strip.phases.map((p, i, all) => {
    const room = x(all[i + 1]?.fromMs ?? props.strip.endMs) - x(p.fromMs)
    return { ...p, x: x(p.fromMs), words: room > p.title.length * 7.5 + 10 ? p.title : '' }
  }),
)
/** Speeds as plain steps, each engine in its own stroke; high is 34 px. */
const speeds = computed(() => {
  const all = props.strip.speeds.flatMap((s) => s.points.map((p) => p.value))
  const [low, top] = [Math.min(...all) * 0.8, Math.max(1, ...all)]
  return props.strip.speeds.map((s) => {
    const y = (v: number) => 116 - (34 * (v - low)) / (top - low)
    const path = s.points
      .map((p, i) => (i ? `H${x(p.atMs)}V${y(p.value)}` : `M${x(p.atMs)} ${y(p.value)}`))
      .join('')
    return { ...s, path: path && `${path}H${x(props.strip.endMs)}` }
  })
})

/** Readings on upright scales as tall as the lane, the tries of an item joined. */
const lane = { top: 128, high: 30 }
const readings = computed(() =>
  props.strip.readings.map((r) => {
    const b = r.band
    if (!b) return { ...r, x: x(r.atMs), y: lane.top + lane.high / 2, band: undefined }
    const { from, to } = rangeOf(b)
    const y = (v: number) =>
      lane.top + lane.high * (1 - Math.max(0, Math.min(1, (v - from) / (to - from || 1))))
    const [low, high] = [y(b.low ?? b.min ?? from), y(b.high ?? b.max ?? to)]
    return { ...r, x: x(r.atMs), y: y(b.value!), band: { y: high, high: Math.max(1, low - high) } }
  }),
)
const traces = computed(() =>
  [...new Set(readings.value.filter((r) => r.band).map((r) => r.item))]
    .map((item) => readings.value.filter((r) => r.band && r.item === item))
    .filter((tries) => tries.length > 1)
    .map((tries) => tries.map((r) => `${r.x},${r.y}`).join(' ')),
)
/** The letters of what happened, as the keys that note it. */
const letters: Record<string, string> = { error: 'E', finding: 'F', note: 'N' }
/** The day's words where they have room until it changed. */
const weather = computed(() =>
  props.strip.weather.map((w, i, all) => {
    const room = x(all[i + 1]?.atMs ?? props.strip.endMs) - x(w.atMs)
    return { ...w, x: x(w.atMs), shown: room > w.words.length * 7 + 14 }
  }),
)

/** What is nearest to the cursor: an item, a reading, an error or a finding. */
const near = computed(() => {
  if (at.value === null) return undefined
  const of = [
    ...props.strip.ticks.map((t) => ({
      atMs: t.atMs,
      words: `${props.names[t.item] ?? t.item}: ${markWords[t.mark]?.toLowerCase() ?? ''}`,
      state: '',
      weight: t.mark === 'done' ? 1.5 : 1,
    })),
    ...props.strip.readings.map((r) => ({ ...r, weight: 0.7 })),
    ...props.strip.moments.map((m) => ({ ...m, weight: 0.8 })),
  ]
  const away = (one: { atMs: number; weight: number }) => Math.abs(one.atMs - at.value!) * one.weight
  return of.sort((a, b) => away(a) - away(b))[0]
})

/** So many letters have room beside the cursor. */
const short = (words: string) => {
  const room = Math.floor((Math.max(x(at.value!), wide.value - x(at.value!)) - 90) / 8)
  return words.length > room ? `${words.slice(0, Math.max(8, room))}…` : words
}

function drag(e: PointerEvent) {
  if (e.type === 'pointermove' && !e.buttons) return
  if (e.type === 'pointerdown') svg.value!.setPointerCapture(e.pointerId)
  at.value = ms(e.clientX - svg.value!.getBoundingClientRect().left)
}
function key(e: KeyboardEvent) {
  const step = e.shiftKey ? 60_000 : 5000
  const to: Record<string, number> = {
    ArrowRight: (at.value ?? 0) + step,
    ArrowLeft: (at.value ?? props.strip.endMs) - step,
    Home: 0,
    End: props.strip.endMs,
  }
  const next = to[e.key]
  if (next === undefined) return
  at.value = Math.max(0, Math.min(props.strip.endMs, next))
  e.preventDefault()
}
</script>

<template>
  <div class="strip" data-part="strip">
    <svg
      ref="svg"
      :viewBox="`0 0 ${wide} 194`"
      role="slider"
      tabindex="0"
      aria-label="The lesson in time"
      :aria-valuemin="0"
      :aria-valuemax="Math.round(strip.endMs / 1000)"
      :aria-valuenow="Math.round((at ?? 0) / 1000)"
      :aria-valuetext="at === null ? 'nowhere' : `${clockWords(at)} ${near?.words ?? ''}`"
      @pointerdown="drag"
      @pointermove="drag"
      @keydown="key"
    >
      <g v-for="p in phases" :key="p.id">
        <line :x1="p.x" :x2="p.x" y1="20" y2="160" class="hair" />
        <text :x="p.x + 3" y="14">{{ p.words }}</text>
      </g>
      <g transform="translate(0 34)">
        <line :x1="edge" :x2="wide - edge" y1="42" y2="42" class="rule" />
        <TapeTick v-for="t in strip.ticks" :key="t.item" :x="x(t.atMs)" :mark="t.mark" />
      </g>
      <g v-for="s in speeds" :key="s.engine">
        <path :d="s.path" class="speed" />
      </g>
      <text v-if="speeds.length" :x="edge" y="93" class="soft">
        {{ speeds[0]!.unit === '%' ? 'speed, %' : 'speed, rpm' }}
      </text>
      <rect
        v-for="(t, i) in strip.timers"
        :key="'t' + i"
        :x="x(t.fromMs)"
        :width="Math.max(2, x(t.toMs) - x(t.fromMs))"
        y="119"
        height="3"
        class="timer"
      >
        <title>{{ t.label }}</title>
      </rect>
      <g v-for="(m, i) in strip.moments" :key="'m' + i" :class="['moment', m.state]" data-part="moment">
        <rect :x="x(m.atMs) - 7" y="18" width="14" height="14" rx="3" />
        <text :x="x(m.atMs)" y="29.5">{{ letters[m.kind] }}</text>
        <title>{{ m.words }}</title>
      </g>
      <rect
        v-for="r in readings.filter((r) => r.band)"
        :key="'b' + r.event"
        :x="r.x - 5"
        width="10"
        :y="r.band!.y"
        :height="r.band!.high"
        class="band"
      />
      <polyline v-for="t in traces" :key="t" :points="t" class="speed" />
      <g v-for="r in readings" :key="r.event" :transform="`translate(${r.x} ${r.y})`" :class="r.state">
        <circle v-if="r.state === 'within'" r="4" />
        <rect v-else-if="r.state === 'out'" x="-4" y="-4" width="8" height="8" />
        <path v-else d="M-5 4L5 4L0 -5Z" />
        <title>{{ r.words }}</title>
      </g>
      <g v-for="(w, i) in weather" :key="'w' + i" data-part="weather">
        <line v-if="i" :x1="w.x" :x2="w.x" y1="164" y2="178" class="rule" />
        <text v-if="w.shown" :x="w.x + (i ? 4 : 0)" y="175">{{ w.words }}</text>
        <title>{{ w.words }}</title>
      </g>
      <text :x="edge" y="191" class="soft">0 min</text>
      <text :x="wide - edge" y="191" class="soft end">{{ Math.round(strip.endMs / 60000) }} min</text>
      <g v-if="at !== null">
        <line :x1="x(at)" :x2="x(at)" y1="20" y2="192" class="cursor" />
        <text
          :x="x(at) > wide * 0.5 ? Math.min(x(at) - 8, wide - 70) : Math.max(x(at) + 8, 70)"
          y="191"
          :class="['said', near?.state, { end: x(at) > wide * 0.5 }]"
        >
          {{ clockWords(at) }} {{ near && short(near.words) }}
        </text>
      </g>
    </svg>
  </div>
</template>

<style scoped>
.strip {
  padding: 8px 14px 0;
  border-bottom: 1px solid var(--hair);
}

svg {
  width: 100%;
  height: 194px;
  display: block;
  cursor: ew-resize;
  touch-action: pan-y;
  user-select: none;
}

text {
  font-size: 13px;
  fill: var(--ink);
}

.soft {
  fill: var(--soft);
}

.end {
  text-anchor: end;
}

.hair {
  stroke: var(--fine);
}

.rule,
.cursor {
  stroke: var(--ink);
  stroke-width: 1.4;
}

.speed {
  fill: none;
  stroke: var(--ink);
  stroke-width: 1.3;
}

.timer {
  fill: var(--soft);
}

.band {
  fill: var(--within-wash);
}

.moment text {
  font-size: 12px;
  font-weight: 700;
  text-anchor: middle;
  fill: var(--paper);
}

.within {
  fill: var(--within);
}

.attend {
  fill: var(--attend);
}

.out {
  fill: var(--out);
}

.unjudged {
  fill: var(--soft);
}

.said {
  font-weight: 700;
  paint-order: stroke;
  stroke: var(--paper);
  stroke-width: 5px;
}
</style>
