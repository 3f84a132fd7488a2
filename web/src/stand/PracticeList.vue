<script setup lang="ts">
import type { Schemas } from '@/schema/schemas'
import { decisionWords } from '@/shared/words'

/** What was practised on the stand, the newest first. */
defineProps<{
  runs: Schemas['StorePracticeRun'][]
  /** With whose it is. */
  named?: boolean
}>()
</script>

<template>
  <router-link v-for="r in runs" :key="r.id" class="run" :to="`/stand/${r.id}`" :data-practice="r.id">
    <b>{{ r.title }}</b>
    <span class="soft">{{ r.on }}</span>
    <span class="what"
      ><template v-if="named">{{ r.student }}, </template>{{ r.mode }}, {{ r.right }} items right,
      {{ r.off }} not; {{ decisionWords[r.decision] }}
      <b :class="r.answered ? 'within' : 'out'">{{ r.answered ? '● right' : '✕ not right' }}</b></span
    >
    <span v-if="r.uncounted" class="what attend" data-part="uncounted">▲ Not counted. {{ r.uncounted }}</span>
  </router-link>
</template>

<style scoped>
.run {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  gap: 0 16px;
  color: inherit;
  text-decoration: none;
  border-bottom: 1px solid var(--fine);
  padding: 10px 0;
}

.what {
  grid-column: 1 / -1;
}
</style>
