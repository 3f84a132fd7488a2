<script setup lang="ts">
import { computed } from 'vue'

import type { Schemas } from '@/schema/schemas'

/** What the grades are worth: the level that the school's middle gives, from beginner to ready, and one instructor's. */
const props = defineProps<{ view: Schemas['ComparedView']; line: Schemas['CompareLine'] | null }>()
const x = (i: number) => 30 + (320 * i) / (props.view.abilities.length - 1)
const y = (level: number) => 150 - 33 * level
const path = (levels: number[]) =>
  levels.map((v, i) => `${i ? 'L' : 'M'}${x(i).toFixed(1)} ${y(v).toFixed(1)}`).join(' ')
const last = computed(() => props.view.abilities.length - 1)
</script>

<template>
  <section>
    <h3 class="ruled">What the grades are worth</h3>
    <svg viewBox="0 0 400 180" role="img" aria-label="The level given, from beginner to ready">
      <g v-for="level in [0, 1, 2, 3, 4]" :key="level">
        <line x1="30" x2="350" :y1="y(level)" :y2="y(level)" class="grid" />
        <text x="14" :y="y(level) + 4">{{ level }}</text>
      </g>
      <path :d="path(view.school)" />
      <text :x="x(last) + 4" :y="y(view.school[last]!) + 4" class="own">school</text>
      <template v-if="line">
        <path :d="path(line.curve)" class="one" />
      </template>
      <text x="30" y="172">beginner</text>
      <text x="350" y="172" class="end">ready</text>
    </svg>
    <p v-if="line" class="attend small">— {{ line.name }}</p>
    <p v-else class="soft small">Touch a line to see what its grades are worth beside the school’s.</p>
  </section>
</template>

<style scoped>
svg {
  width: 100%;
}

path {
  fill: none;
  stroke: var(--ink);
  stroke-width: 2;
}

.one {
  stroke: var(--attend);
}

.grid {
  stroke: var(--fine);
}

text {
  font: 12px var(--figures);
  fill: var(--soft);
}

.own {
  font-weight: 700;
  fill: var(--ink);
}

.end {
  text-anchor: end;
}
</style>
