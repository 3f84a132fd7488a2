<script setup lang="ts">
import { computed } from 'vue'

/** The speed of one run-up over its seconds, as a recorder kept it: drawn so that a drop is seen. */
const props = defineProps<{ seconds: number[]; speed: number[]; unit: string }>()
const wide = innerWidth < 600 ? 380 : 760
const high = 150
const left = 52
const ends = computed(() => {
  const top = Math.max(...props.speed)
  const low = Math.max(Math.min(...props.speed), top * 0.82)
  const room = Math.max(1, (top - low) * 0.08)
  return { from: props.seconds[0] ?? 0, to: props.seconds.at(-1) ?? 1, low: low - room, high: top + room }
})
const x = (s: number) =>
  left + ((wide - left - 8) * (s - ends.value.from)) / (ends.value.to - ends.value.from || 1)
const y = (v: number) =>
  6 + ((high - 28) * (ends.value.high - Math.max(v, ends.value.low))) / (ends.value.high - ends.value.low)
const line = computed(() =>
  props.seconds
    .map((s, i) => `${i ? 'L' : 'M'}${x(s).toFixed(1)} ${y(props.speed[i]!).toFixed(1)}`)
    .join(' '),
)
const grid = computed(() => {
  const room = ends.value.high - ends.value.low
  const step = [1, 2, 5, 10, 20, 50, 100, 200, 500, 1000].find((s) => room / s < 6) ?? 1000
  const first = Math.ceil(ends.value.low / step) * step
  return Array.from({ length: 12 }, (_, i) => first + i * step).filter((v) => v < ends.value.high)
})
const every = computed(() => (ends.value.to - ends.value.from > 90 ? 30 : 10))
const marks = computed(() =>
  Array.from({ length: 60 }, (_, i) => i * every.value).filter((s) => s <= ends.value.to),
)
</script>

<template>
  <svg :viewBox="`0 0 ${wide} ${high}`" role="img" :aria-label="`speed over ${Math.round(ends.to)} seconds`">
    <g v-for="v in grid" :key="v">
      <line :x1="left" :x2="wide - 8" :y1="y(v)" :y2="y(v)" class="grid" />
      <text :x="left - 6" :y="y(v) + 4" text-anchor="end">{{ v }}</text>
    </g>
    <text v-for="s in marks" :key="s" :x="x(s)" :y="high - 4" text-anchor="middle">{{ s }}</text>
    <text :x="4" :y="high - 4">{{ unit }}, s</text>
    <path :d="line" />
  </svg>
</template>

<style scoped>
svg {
  width: 100%;
  max-width: 900px;
  display: block;
}

path {
  fill: none;
  stroke: var(--ink);
  stroke-width: 1.6;
}

.grid {
  stroke: var(--fine);
}

text {
  font-size: 12px;
  fill: var(--soft);
}
</style>
