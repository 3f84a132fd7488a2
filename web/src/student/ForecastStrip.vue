<script setup lang="ts">
import { computed } from 'vue'

import type { Schemas } from '@/schema/schemas'

/** A forecast as a strip of lessons to come: the band that holds eight of ten, and its middle. */
const props = defineProps<{ forecast: Schemas['ForecastView'] }>()
const lessons = computed(() => props.forecast.lessons)
const most = computed(() => {
  const s = lessons.value!
  return Math.max(s.high ?? s.middle * 2, s.middle + 1) * 1.08
})
const x = (n: number) => 4 + (292 * n) / most.value
</script>

<template>
  <div data-part="forecast">
    <svg v-if="lessons" viewBox="0 0 300 26" aria-hidden="true">
      <line x1="4" x2="296" y1="22" y2="22" class="rule" />
      <rect
        :x="x(lessons.low)"
        y="10"
        :width="(lessons.high == null ? 296 : x(lessons.high)) - x(lessons.low)"
        height="12"
        class="band"
      />
      <line :x1="x(lessons.middle)" :x2="x(lessons.middle)" y1="4" y2="22" class="middle" />
      <line v-for="n in Math.floor(most)" :key="n" :x1="x(n)" :x2="x(n)" y1="22" y2="25" class="rule" />
    </svg>
    <p v-for="(words, i) in forecast.words" :key="words" :class="i > (lessons ? 1 : -1) ? 'soft small' : ''">
      {{ words }}
    </p>
  </div>
</template>

<style scoped>
svg {
  width: 100%;
  max-width: 420px;
  display: block;
  margin-top: 6px;
}

.rule {
  stroke: var(--hair);
}

.band {
  fill: var(--hair);
}

.middle {
  stroke: var(--ink);
  stroke-width: 3;
}

p {
  padding: 2px 0;
}
</style>
