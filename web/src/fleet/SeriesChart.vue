<script setup lang="ts">
import { computed } from 'vue'

import type { Schemas } from '@/schema/schemas'

/** One repeated reading over the hours: its points, the weighted average, its band, and where it goes. */
const props = defineProps<{ series: Schemas['CompareSeries'] }>()
const wide = innerWidth < 600 ? 380 : 760
const high = 300
const left = 52
const points = computed(() => props.series.points)
const ahead = computed(() => (props.series.state === 'attend' ? (props.series.trend.hoursToLimit ?? 0) : 0))
const hours = computed(() => {
  const first = points.value[0]!.hours
  const last = points.value.at(-1)!.hours
  const room = Math.max(last - first, 1)
  return { first, last, end: last + Math.min(ahead.value * 1.1, room * 0.5) || first + 1 }
})
const span = computed(() => {
  const { low, high: top } = props.series
  const all = [
    ...points.value.map((p) => p.value),
    ...(low === undefined ? [] : [low]),
    ...(top === undefined ? [] : [top]),
  ]
  const [from, to] = [Math.min(...all), Math.max(...all)]
  const room = (to - from || 1) * 0.08
  return { from: from - room, to: to + room }
})
const x = (h: number) =>
  left + ((wide - left - 8) * (h - hours.value.first)) / (hours.value.end - hours.value.first || 1)
const y = (v: number) => 10 + ((high - 40) * (span.value.to - v)) / (span.value.to - span.value.from)
const average = computed(() => {
  let broken = true
  return points.value
    .map((p, i) => {
      const before = points.value[i - 1]
      broken = !before || props.series.restarts.some((r) => r.hours >= before.hours && r.hours <= p.hours)
      return `${broken ? 'M' : 'L'}${x(p.hours).toFixed(1)} ${y(p.average).toFixed(1)}`
    })
    .join(' ')
})
const band = computed(() => ({
  top: y(props.series.high ?? span.value.to),
  bottom: y(props.series.low ?? span.value.from),
}))
const limit = computed(() => (props.series.toward === 'below' ? props.series.low : props.series.high))
/** Where the trend goes, between the slowest and the fastest that the readings allow. */
const cone = computed(() => {
  const last = points.value.at(-1)!
  const t = props.series.trend
  if (!ahead.value || limit.value === undefined) return null
  const to = hours.value.end
  const at = (slope?: number | null) => y(last.average + (slope ?? 0) * (to - last.hours))
  const from = `${x(last.hours)} ${y(last.average)}`
  return {
    area: `M${from} L${x(to)} ${at(t.low)} L${x(to)} ${at(t.high)} Z`,
    line: `M${from} L${x(to)} ${at(t.slopePerHour)}`,
  }
})
const figures = (v: number) => Number(v.toPrecision(5)).toString()
/** Lines at round numbers: 1, 2 or 5 times a power of ten apart. */
const grid = computed(() => {
  const rough = (span.value.to - span.value.from) / 4
  const ten = 10 ** Math.floor(Math.log10(rough))
  const step = ten * ([1, 2, 5].find((n) => n * ten >= rough) ?? 10)
  const first = Math.ceil(span.value.from / step)
  const count = Math.floor(span.value.to / step) - first + 1
  return Array.from({ length: count }, (_, n) => (first + n) * step)
})
</script>

<template>
  <svg
    :viewBox="`0 0 ${wide} ${high}`"
    role="img"
    :aria-label="`${series.title}, ${series.label}: ${series.long}`"
  >
    <clipPath id="inside"><rect :x="left" y="10" :width="wide - left - 8" :height="high - 40" /></clipPath>
    <rect
      :x="left"
      :y="band.top"
      :width="wide - left - 8"
      :height="Math.max(0, band.bottom - band.top)"
      class="band"
    />
    <g v-for="v in grid" :key="v">
      <line :x1="left" :x2="wide - 8" :y1="y(v)" :y2="y(v)" class="grid" />
      <text :x="left - 6" :y="y(v) + 4" class="end">{{ figures(v) }}</text>
    </g>
    <template
      v-for="[name, v] in [
        ['low', series.low],
        ['high', series.high],
      ] as const"
      :key="name"
    >
      <g v-if="v !== undefined">
        <line :x1="left" :x2="wide - 8" :y1="y(v)" :y2="y(v)" class="limit" />
        <text :x="left + 6" :y="name === 'high' ? y(v) - 5 : y(v) + 15" class="limits">
          limit {{ figures(v) }} {{ series.unit }}
        </text>
      </g>
    </template>
    <g clip-path="url(#inside)">
      <template v-if="cone">
        <path :d="cone.area" class="cone" />
        <path :d="cone.line" class="ahead" />
      </template>
      <path :d="average" :class="['average', series.state]" />
      <circle v-for="(p, i) in points" :key="i" :cx="x(p.hours)" :cy="y(p.value)" r="3.4">
        <title>{{ p.day }}, {{ p.hours }} h: {{ p.value }} {{ series.unit }}</title>
      </circle>
      <line
        v-for="r in series.restarts"
        :key="r.day + r.words"
        :x1="x(r.hours)"
        :x2="x(r.hours)"
        y1="10"
        :y2="high - 30"
        class="restart"
      >
        <title>{{ r.day }}: {{ r.words }}</title>
      </line>
    </g>
    <text :x="left" :y="high - 10">{{ figures(hours.first) }} h</text>
    <text :x="x(hours.last)" :y="high - 10" class="end">{{ figures(hours.last) }} h</text>
  </svg>
</template>

<style scoped>
svg {
  width: 100%;
  display: block;
}

.band {
  fill: var(--within);
  opacity: 0.12;
}

.grid {
  stroke: var(--fine);
}

.limit {
  stroke: var(--out);
  stroke-width: 1.5;
  stroke-dasharray: 5 4;
}

.average {
  fill: none;
  stroke: var(--within);
  stroke-width: 2.4;
}

.average.attend,
.ahead {
  stroke: var(--attend);
}

.average.out {
  stroke: var(--out);
}

.ahead {
  fill: none;
  stroke-dasharray: 4 4;
  stroke-width: 2;
}

.cone {
  fill: var(--attend);
  opacity: 0.2;
}

circle {
  fill: var(--ink);
}

.restart {
  stroke: var(--ink);
  stroke-dasharray: 2 3;
}

text {
  font: 13px var(--figures);
  fill: var(--soft);
}

.limits {
  fill: var(--out);
}

.end {
  text-anchor: end;
}
</style>
