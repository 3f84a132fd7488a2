<script setup lang="ts">
import { ref } from 'vue'

import AppButton from '@/base/AppButton.vue'
import type { Schemas } from '@/schema/schemas'
import RateCell from '@/school/RateCell.vue'

/** What is taught, how often it goes badly, and behind it the lessons, once it is touched. */
defineOptions({ inheritAttrs: false })
defineProps<{
  words: string
  /** Smaller words below; empty for none. */
  below?: string
  rates: { rate: Schemas['CompareRate']; drawn: string; words: string }[]
  /** Whether the last months are better or worse; left out where that is not told. */
  change?: string
  /** What is said at the end of the row instead. */
  end?: string
  /** What the part with the lessons is called. */
  part: string
  lessons: { id: string; words: string }[]
}>()
const open = ref(false)
</script>

<template>
  <AppButton
    v-bind="$attrs"
    :class="['row', { single: rates.length === 1 }]"
    :aria-expanded="open"
    @click="open = !open"
  >
    <span
      ><b>{{ words }}</b
      ><small v-if="below" class="soft">{{ below }}</small></span
    >
    <RateCell v-for="r in rates" :key="r.drawn" :rate="r.rate" :drawn="r.drawn" :title="r.words" />
    <span v-if="change !== undefined" :class="['small', change === 'worse' ? 'out' : 'within']">{{
      change ? `${change === 'worse' ? '■' : '●'} ${change}` : ''
    }}</span>
    <span v-else-if="end" class="small">{{ end }}</span>
  </AppButton>
  <p v-if="open" class="lessons" :data-part="part">
    <template v-if="!lessons.length">It went right each time.</template>
    <router-link v-for="l in lessons" :key="l.id + l.words" :to="`/lessons/${l.id}/debrief`">{{
      l.words
    }}</router-link>
  </p>
</template>

<style scoped>
.row {
  display: grid;
  grid-template-columns: minmax(0, 1.3fr) minmax(0, 1fr) minmax(0, 1fr) 110px;
  gap: 16px;
  align-items: center;
  width: 100%;
  min-height: 46px;
  padding: 2px 0;
  text-align: left;
  border: 0;
  border-bottom: 1px solid var(--fine);
  line-height: 1.2;
}

.single {
  grid-template-columns: minmax(0, 1.3fr) minmax(0, 1fr) minmax(0, 1fr);
}

.row[aria-expanded='true'] {
  background: var(--live);
}

small {
  display: block;
}

.lessons {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 20px;
  padding: 8px 0 10px 16px;
}

@media (max-width: 800px) {
  .row {
    grid-template-columns: minmax(0, 1fr);
    gap: 4px;
    padding: 8px 0;
  }
}
</style>
