<script setup lang="ts">
import { computed } from 'vue'

import type { Schemas } from '@/schema/schemas'
import { rangeOf } from '@/shared/scale'

/** A reading on its printed scale: hard limits, normal band, needle. */
const props = defineProps<{ strip: Schemas['CheckStrip']; bare?: boolean; narrow?: boolean }>()

const range = computed(() => rangeOf(props.strip))
// In a narrow place it is drawn narrower, so that its figures stay readable.
const wide = computed(() => (props.bare || props.narrow ? 280 : 500))
const x = (v: number) => {
  const at = 4 + ((wide.value - 8) * (v - range.value.from)) / (range.value.to - range.value.from)
  return Math.min(wide.value - 4, Math.max(4, at))
}
const from = computed(() => x(props.strip.low ?? props.strip.min ?? range.value.from))
const to = computed(() => x(props.strip.high ?? props.strip.max ?? range.value.to))
const labels = computed(() => {
  const s = props.strip
  return [s.min, s.low, s.high, s.max].filter(
    (n, i, all) => n !== undefined && all.indexOf(n) === i,
  ) as number[]
})
</script>

<template>
  <figure :class="{ bare, narrow }">
    <figcaption v-if="!bare">
      <span>{{ strip.label }}</span>
      <span class="soft">{{ strip.unit }}</span>
    </figcaption>
    <svg
      :viewBox="`0 0 ${wide} 40`"
      role="img"
      :aria-label="`${strip.label}: ${strip.value ?? 'not read'} ${strip.unit}`"
    >
      <rect :x="from" y="8" :width="Math.max(0, to - from)" height="14" class="band" />
      <line x1="4" :x2="wide - 4" y1="22" y2="22" class="rule" />
      <line
        v-if="strip.min !== undefined"
        :x1="x(strip.min)"
        :x2="x(strip.min)"
        y1="4"
        y2="24"
        class="limit"
      />
      <line
        v-if="strip.max !== undefined"
        :x1="x(strip.max)"
        :x2="x(strip.max)"
        y1="4"
        y2="24"
        class="limit"
      />
      <text v-for="n in labels" :key="n" :x="x(n)" y="37">{{ n }}</text>
      <g v-if="strip.value !== undefined" :transform="`translate(${x(strip.value)} 0)`">
        <path d="M0 24 L-6 6 L6 6 Z" class="needle" />
      </g>
    </svg>
  </figure>
</template>

<style scoped>
figure {
  margin: 0;
  display: grid;
  grid-template-columns: 150px minmax(0, 1fr);
  align-items: center;
}

figcaption {
  display: flex;
  flex-direction: column;
  line-height: 1.2;
}

figure.narrow {
  grid-template-columns: 96px minmax(0, 1fr);
}

figure.bare {
  display: block;
}

svg {
  width: 100%;
  display: block;
}

.band {
  fill: var(--within-wash);
}

.rule {
  stroke: var(--ink);
}

.limit {
  stroke: var(--out);
  stroke-width: 2;
}

.needle {
  fill: var(--ink);
}

text {
  font: 13px var(--figures);
  fill: var(--soft);
  text-anchor: middle;
}
</style>
