<script setup lang="ts">
import { computed } from 'vue'

import type { Schemas } from '@/schema/schemas'
import { useLesson } from '@/lesson/lesson'
import { rules } from '@/rules/rules'
import BandStrip from '@/shared/BandStrip.vue'
import { clockWords, markTone, markWords } from '@/shared/words'

/** The lesson as it stood at a moment of the strip. */
const props = defineProps<{ at: number; strip: Schemas['LessonStrip'] }>()
const lesson = useLesson()
const moment = computed(() => rules.at(props.at))
const then = computed(() => ({ ...moment.value.state, day: moment.value.day }))
const name = (item?: string) => lesson.places.find((p) => p.item.id === item)?.item.challenge ?? ''
const marked = computed(() => then.value.items.filter((i) => i.status))
const lately = computed(() =>
  marked.value.toSorted((a, b) => b.atMs - a.atMs || b.order - a.order).slice(0, 4),
)
const phase = computed(() => props.strip.phases.findLast((p) => p.fromMs <= props.at)?.title ?? '')
const reading = computed(() => {
  const r = props.strip.readings.findLast((r) => r.atMs <= props.at)
  return r && { ...r, shown: rules.shown(r.event) }
})
</script>

<template>
  <section class="then" data-part="then" aria-live="polite">
    <h2>
      At {{ clockWords(at) }}{{ phase ? `, ${phase}` : '' }}
      <span class="soft small">{{ moment.seen }}</span>
    </h2>
    <div class="halves">
      <div>
        <p v-for="i in lately" :key="i.id">
          {{ name(i.id) }} <b :class="markTone(i.mark)">{{ markWords[i.mark] }}</b>
        </p>
        <p v-if="then.day" class="soft small">{{ then.day }}</p>
      </div>
      <div v-if="reading">
        <p>
          <span :class="reading.state">{{ reading.words }}</span>
          <span class="soft small"> at {{ clockWords(reading.atMs) }}</span>
        </p>
        <BandStrip v-for="s in reading.shown.strips.slice(0, 3)" :key="s.label" :strip="s" />
      </div>
      <p v-else class="soft">Nothing is measured yet.</p>
    </div>
  </section>
</template>

<style scoped>
.then {
  padding: 10px 24px;
  background: var(--live);
  border-bottom: 1px solid var(--hair);
}

h2 {
  font-size: 18px;
  font-weight: 700;
}

.halves {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1.4fr);
  gap: 4px 32px;
}

@media (max-width: 700px) {
  .halves {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
