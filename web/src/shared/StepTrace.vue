<script setup lang="ts">
import { computed } from 'vue'

/** A speed over the positions of a switch, drawn as plain steps from typed numbers. */
const props = defineProps<{
  points: { label: string; value?: number }[]
  top: number
  dropMax: number
  unit: string
  /** How it is drawn: over its usual 640, in units that its words are measured in. */
  wide?: number
  high?: number
  /** Without the numbers on it. */
  bare?: boolean
}>()

const width = props.wide ?? 640
const height = props.high ?? 116
const left = 46

const low = computed(() => {
  const values = props.points.flatMap((p) => (p.value === undefined ? [] : [p.value]))
  const span = Math.max(
    props.dropMax * 1.35,
    props.top - Math.min(...values, props.top) + props.dropMax * 0.15,
  )
  return props.top - Math.min(span, props.dropMax * 4)
})
const high = computed(() =>
  Math.max(props.top, ...props.points.map((p) => Math.min(p.value ?? 0, props.top * 1.05))),
)
const y = (v: number) =>
  12 + ((high.value - Math.max(v, low.value)) / (high.value - low.value)) * (height - 28)
const slot = computed(() => (width - left) / props.points.length)

const path = computed(() => {
  let d = ''
  let last: number | undefined
  props.points.forEach((p, i) => {
    const x = left + i * slot.value
    if (p.value === undefined) {
      last = undefined
      return
    }
    const at = y(p.value)
    d += last === undefined ? `M${x} ${at}` : `C${x + 4} ${at} ${x + 4} ${at} ${x + 14} ${at}`
    d += `H${x + slot.value}`
    last = at
  })
  return d
})
/** Where the words of the limit stand: over two positions that stay above it, else at the end. */
const said = computed(() => {
  const low = (i: number) => (props.points[i]?.value ?? props.top) < props.top - props.dropMax
  const at = props.points.findIndex((_, i) => i + 1 < props.points.length && !low(i) && !low(i + 1))
  return at < 0 ? { x: width - 6, anchor: 'end' } : { x: left + at * slot.value + 20, anchor: 'start' }
})
const marks = computed(() => {
  const span = high.value - low.value
  const step = span > 300 ? 100 : span > 120 ? 50 : span > 20 ? 10 : 2
  const out: number[] = []
  for (let v = Math.ceil(low.value / step) * step; v <= high.value; v += step) out.push(v)
  return out
})
</script>

<template>
  <svg :viewBox="`0 0 ${width} ${height}`" role="img" :aria-label="`speed in ${unit} by switch position`">
    <rect :x="left" :y="y(top)" :width="width - left" :height="y(top - dropMax) - y(top)" class="band" />
    <g v-for="m in marks" :key="m">
      <line :x1="left" :x2="width" :y1="y(m)" :y2="y(m)" class="grid" />
      <text :x="left - 6" :y="y(m) + 4" class="scale">{{ m }}</text>
    </g>
    <line :x1="left" :x2="width" :y1="y(top - dropMax)" :y2="y(top - dropMax)" class="limit" />
    <text :x="said.x" :y="y(top - dropMax) + 14" :text-anchor="said.anchor" class="said">
      lowest allowed {{ top - dropMax }} (drop {{ dropMax }})
    </text>
    <path :d="path" class="trace" />
    <g v-for="(p, i) in bare ? [] : points" :key="i">
      <text
        v-if="p.value !== undefined"
        :x="left + (i + 0.5) * slot + 6"
        :y="y(p.value) + (p.value > top - dropMax * 0.4 || p.value < top - dropMax ? 17 : -8)"
        :class="['read', { over: p.value < top - dropMax }]"
      >
        {{ p.label }} {{ p.value }}
      </text>
    </g>
  </svg>
</template>

<style scoped>
svg {
  width: 100%;
  height: auto;
  display: block;
}

.band {
  fill: var(--within-wash);
}

.grid {
  stroke: var(--fine);
}

.scale {
  font: 12px var(--figures);
  fill: var(--soft);
  text-anchor: end;
}

.limit {
  stroke: var(--out);
  stroke-width: 1.6;
  stroke-dasharray: 6 4;
}

.said {
  font: 12px var(--sans);
  fill: var(--out);
}

.read {
  font: 700 13px var(--figures);
  fill: var(--ink);
  text-anchor: middle;
}

.over {
  fill: var(--out);
}

.trace {
  fill: none;
  stroke: var(--ink);
  stroke-width: 2.4;
}
</style>
