<script setup lang="ts">
import { computed, ref } from 'vue'

import type { Schemas } from '@/schema/schemas'
import { useLesson } from '@/lesson/lesson'
import ChoiceRow from '@/shared/ChoiceRow.vue'
import TapeTick from '@/shared/TapeTick.vue'
import { dayWords } from '@/shared/words'

/** One phase of this lesson, above the same phase of the student's lesson before. */
const props = defineProps<{ previous: Schemas['Previous']; on: string }>()
const lesson = useLesson()
/** The phases that both lessons worked, the one with most deviations now first chosen. */
const phases = computed(() =>
  (lesson.state?.phases ?? []).filter(
    (p) => p.marked > 0 && lesson.state!.items.some((i) => i.phase === p.id && props.previous.marks[i.id]),
  ),
)
const worst = computed(
  () => phases.value.toSorted((a, b) => b.marked - b.levels[4]! - (a.marked - a.levels[4]!))[0]?.id ?? '',
)
const chosen = ref('')
const phase = computed(() => chosen.value || worst.value)
const items = computed(() => (lesson.state?.items ?? []).filter((i) => i.phase === phase.value))
const name = (item: string) => lesson.places.find((p) => p.item.id === item)?.item.challenge ?? item
</script>

<template>
  <section v-if="phases.length" class="part" data-part="previous-lesson">
    <h2>{{ phases.find((p) => p.id === phase)?.title }}, this lesson and the one before</h2>
    <ChoiceRow
      v-if="phases.length > 1"
      v-model="chosen"
      name="Phase"
      :choices="phases.map((p) => [p.id === worst && !chosen ? '' : p.id, p.title])"
    />
    <p v-for="row in ['now', 'before']" :key="row" class="row">
      <span class="soft">{{ dayWords(row === 'now' ? on : previous.on) }}</span>
      <svg
        :viewBox="`0 0 ${items.length * 14} 44`"
        :style="{ maxWidth: `${items.length * 22}px` }"
        preserveAspectRatio="xMinYMax meet"
        :aria-label="row"
      >
        <line x1="0" :x2="items.length * 14" y1="42" y2="42" class="rule" />
        <g v-for="(i, n) in items" :key="i.id">
          <TapeTick :x="7 + n * 14" :mark="row === 'now' ? i.mark : (previous.marks[i.id] ?? '')" />
          <title>{{ name(i.id) }}</title>
        </g>
      </svg>
    </p>
  </section>
</template>

<style scoped>
.row {
  display: grid;
  grid-template-columns: 66px minmax(0, 1fr);
  align-items: end;
}

svg {
  width: 100%;
  height: 44px;
  overflow: visible;
}

.rule {
  stroke: var(--hair);
  vector-effect: non-scaling-stroke;
}
</style>
