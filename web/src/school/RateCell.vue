<script setup lang="ts">
import type { Schemas } from '@/schema/schemas'

/** A rate with the interval that holds the true one, and how many it is of. */
defineProps<{ rate: Schemas['CompareRate']; drawn: string; title: string }>()
const percent = (v: number) => `${Math.round(100 * v)} %`
</script>

<template>
  <span class="rate" :title="title">
    <b class="figure">{{ percent(rate.rate) }}</b>
    <svg viewBox="0 0 100 16" preserveAspectRatio="none" aria-hidden="true">
      <line x1="0" x2="100" y1="15" y2="15" class="axis" />
      <line :x1="100 * rate.low" :x2="100 * rate.high" y1="8" y2="8" :class="['interval', drawn]" />
      <line :x1="100 * rate.rate" :x2="100 * rate.rate" y1="2" y2="14" :class="['tick', drawn]" />
    </svg>
    <span class="soft small">{{ rate.n }} of {{ rate.of }}</span>
  </span>
</template>

<style scoped>
.rate {
  display: grid;
  grid-template-columns: 56px minmax(0, 1fr) 112px;
  gap: 8px;
  align-items: center;
}

svg {
  width: 100%;
  height: 18px;
}

line {
  vector-effect: non-scaling-stroke;
}

.axis {
  stroke: var(--fine);
}

.interval {
  stroke-width: 4;
}

.tick {
  stroke-width: 3;
}

.miss {
  stroke: var(--out);
}

.word {
  stroke: var(--attend);
}
</style>
