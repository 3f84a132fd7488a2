<script setup lang="ts">
import { computed } from 'vue'

import type { Schemas } from '@/schema/schemas'

/**
 * A student's history on one element, from a day to another: height is the level,
 * and the newest lessons stand where they were in time, as far as there is room.
 */
const props = defineProps<{ history: Schemas['ProgressSeen'][]; from: string; to: string }>()
const apart = 8
const shown = computed(() => props.history.slice(-18))
const at = computed(() => {
  const begin = Date.parse(shown.value.length < props.history.length ? shown.value[0]!.date : props.from)
  const long = Math.max(1, Date.parse(props.to) - begin)
  const x = shown.value.map((h) => 6 + (138 * Math.max(0, Date.parse(h.date) - begin)) / long)
  x.forEach((_, i) => i && (x[i] = Math.max(x[i]!, x[i - 1]! + apart)))
  for (let i = x.length - 1; i >= 0; i--) x[i] = Math.min(x[i]!, 144 - apart * (x.length - 1 - i))
  return x
})
const ticks = computed(() =>
  shown.value.map((h, i) => ({
    x: at.value[i]!,
    top: 30 - 5 - h.level * 4,
    tone: h.level >= 3 ? 'within' : h.level === 2 ? 'attend' : 'out',
    level: h.level,
    implied: h.implied,
    title: `${h.date}: level ${h.level}, ${h.implied ? 'passed unmarked' : `${h.items} marks`}`,
  })),
)
</script>

<template>
  <svg viewBox="0 0 150 34" role="img" :aria-label="`${history.length} lessons`">
    <line x1="0" x2="150" y1="31" y2="31" class="rule" />
    <g v-for="t in ticks" :key="t.x" :transform="`translate(${t.x} 0)`">
      <title>{{ t.title }}</title>
      <line :y1="t.top" y2="30" :class="[t.tone, { implied: t.implied }]" />
      <circle v-if="t.level === 2" :cy="t.top - 3.5" r="3" class="attend" />
      <path
        v-if="t.level === 1"
        :d="`M-3 ${t.top - 7} L3 ${t.top - 1} M3 ${t.top - 7} L-3 ${t.top - 1}`"
        class="out"
      />
      <rect v-if="t.level === 0" x="-3" :y="t.top - 6" width="6" height="6" class="out solid" />
    </g>
  </svg>
</template>

<style scoped>
svg {
  width: 150px;
  display: block;
}

.rule {
  stroke: var(--hair);
}

.within,
.attend,
.out {
  fill: none;
  stroke-width: 2.2;
  stroke: var(--within);
}

.attend {
  stroke: var(--attend);
}

.out {
  stroke: var(--out);
}

.implied {
  stroke-dasharray: 2 3;
}

.solid {
  fill: var(--out);
}
</style>
