<script setup lang="ts">
import { computed } from 'vue'

import type { LessonRow } from '@/schema/schemas'
import { dayWords } from '@/shared/words'

const props = defineProps<{ lesson: LessonRow; own?: boolean }>()
const to = computed(() =>
  props.lesson.status === 'open' ? `/lessons/${props.lesson.id}` : `/lessons/${props.lesson.id}/debrief`,
)
const share = computed(() => Math.round((100 * props.lesson.marked) / Math.max(1, props.lesson.total)))
</script>

<template>
  <router-link :to="to" class="line">
    <span class="day figure">{{ dayWords(lesson.openedAt.slice(0, 10)) }}</span>
    <b class="craft">{{ lesson.registration }}</b>
    <span class="who">
      <b v-if="!own">{{ lesson.student }}</b>
      <span class="soft"> {{ own ? lesson.instructor : `with ${lesson.instructor}` }}</span>
      <span v-if="lesson.purpose === 'stage-check'" class="soft">, stage check</span>
    </span>
    <span class="phases soft">
      <svg viewBox="0 0 100 10" preserveAspectRatio="none" aria-hidden="true">
        <line x1="0" x2="100" y1="9" y2="9" class="rule" />
        <line x1="0" :x2="share" y1="6" y2="6" class="done" />
      </svg>
      {{ lesson.marked }} of {{ lesson.total }} items<template v-if="lesson.runway">
        · runway {{ lesson.runway }} · {{ lesson.wind }}</template
      >
    </span>
    <span :class="['status', lesson.status === 'signed' ? 'soft' : 'attend']">{{
      { open: '▲ running', ended: '▲ not signed', signed: 'signed' }[lesson.status]
    }}</span>
  </router-link>
</template>

<style scoped>
.line {
  display: grid;
  grid-template-columns: 70px 74px minmax(0, 1fr) minmax(0, 1fr) 92px;
  gap: 4px 12px;
  align-items: center;
  min-height: 56px;
  padding: 6px 0;
  border-bottom: 1px solid var(--fine);
  text-decoration: none;
}

.day {
  font-size: 13px;
  color: var(--soft);
}

.who b {
  margin-right: 6px;
}

.phases {
  font-size: 13px;
}

svg {
  display: block;
  width: 100%;
  height: 10px;
}

.rule {
  stroke: var(--hair);
}

.done {
  stroke: var(--within);
  stroke-width: 4;
}

.status {
  text-align: right;
}

@media (max-width: 600px) {
  .line {
    grid-template-columns: minmax(0, 1fr) auto;
  }

  .craft {
    grid-column: 2;
    text-align: right;
  }

  .who {
    grid-column: 1;
  }

  .status {
    grid-area: 2 / 2;
  }

  .phases {
    grid-column: 1 / 3;
  }
}
</style>
