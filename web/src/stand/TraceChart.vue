<script setup lang="ts">
import { computed } from 'vue'

import type { Schemas } from '@/schema/schemas'

/** What a gauge showed over a whole run, its band, and what another run showed beside it. */
const props = defineProps<{
  gauge: Schemas['StandPanelGauge']
  values: number[]
  other: number[]
  marks: { second: number; words: string }[]
}>()
const emit = defineEmits<{ at: [second: number] }>()
const [wide, high] = [560, 104]
const x = (second: number) => (wide * second) / Math.max(props.values.length - 1, 1)
const y = (v: number) => {
  const { from, to } = props.gauge
  return high - (high * (Math.min(Math.max(v, from), to) - from)) / (to - from)
}
const path = (values: number[]) =>
  values.map((v, i) => `${i ? 'L' : 'M'}${x(i).toFixed(1)} ${y(v).toFixed(1)}`).join('')
const band = computed(() => {
  const { low, high: top, from, to } = props.gauge
  return low === undefined && top === undefined
    ? undefined
    : { y: y(top ?? to), h: y(low ?? from) - y(top ?? to) }
})
function touched(e: MouseEvent) {
  const box = (e.currentTarget as SVGElement).getBoundingClientRect()
  emit('at', Math.round(((e.clientX - box.left) / box.width) * (props.values.length - 1)))
}
</script>

<template>
  <figure :data-trace="gauge.id">
    <figcaption>
      {{ gauge.label }} <span class="soft">{{ gauge.unit }}</span>
    </figcaption>
    <svg
      :viewBox="`0 0 ${wide} ${high}`"
      role="img"
      :aria-label="`${gauge.label} over the run`"
      @click="touched"
    >
      <rect v-if="band" x="0" :width="wide" :y="band.y" :height="band.h" class="band" />
      <path v-if="other.length" :d="path(other)" class="other" />
      <path :d="path(values)" class="own" />
      <g v-for="m in marks" :key="m.words + m.second">
        <line :x1="x(m.second)" :x2="x(m.second)" y1="0" :y2="high" class="mark" />
        <title>{{ m.words }}</title>
      </g>
    </svg>
  </figure>
</template>

<style scoped>
figure {
  margin: 0;
}

figcaption {
  font-size: 14px;
}

svg {
  width: 100%;
  height: auto;
  display: block;
  background: var(--sheet);
  border: 1px solid var(--fine);
  cursor: crosshair;
}

path {
  fill: none;
  stroke: var(--ink);
  stroke-width: 1.8;
}

.other {
  stroke: var(--soft);
  stroke-width: 1;
  stroke-dasharray: 3 3;
}

.band {
  fill: var(--within);
  opacity: 0.14;
}

.mark {
  stroke: var(--out);
  stroke-dasharray: 2 3;
}
</style>
