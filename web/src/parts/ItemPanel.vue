<script setup lang="ts">
import { computed } from 'vue'

import { useLesson, type Place } from '../stores/lesson'

/** What stands beside an item: usual errors, standards, the question why. */
const props = defineProps<{ place: Place }>()
const lesson = useLesson()

const asked = computed(() => (lesson.state?.orals ?? []).filter((o) => o.item === props.place.item.id))
const notes = computed(() => (lesson.state?.notes ?? []).filter((n) => n.item === props.place.item.id))
const errors = computed(() => (lesson.state?.errors ?? []).filter((e) => e.item === props.place.item.id))
const findings = computed(() => (lesson.state?.findings ?? []).filter((f) => f.item === props.place.item.id))
const codes = (ids?: string[]) => (ids ?? []).map((id) => lesson.view?.elements[id] ?? id).join(', ')
const before = computed(() =>
  (props.place.item.after ?? []).map(
    (id) => lesson.places.find((p) => p.item.id === id)?.item.challenge ?? id,
  ),
)
const levels = [
  [4, 'knew it'],
  [3, 'small slip'],
  [2, 'after a word'],
  [1, 'did not know'],
] as const

const ask = (level: number) =>
  lesson.touch([
    { kind: 'oral', payload: { item: props.place.item.id, question: 'Why is this item here?', level } },
  ])
</script>

<template>
  <section class="about" aria-label="About this item">
    <template v-if="!place.item.check">
      <h3>Usual errors</h3>
      <ul>
        <li v-for="e in place.item.errors" :key="e">{{ e }}</li>
      </ul>
    </template>
    <p v-if="before.length && !place.item.check" class="soft">Only after: {{ before.join(', ') }}</p>
    <p v-for="p in place.state.reasons.filter((r) => r.level < 4)" :key="p.code" class="attend">
      ▲ {{ p.message }}
    </p>
    <p v-for="e in errors" :key="e.event">
      <b class="out">Error:</b> {{ e.label }}<template v-if="e.words">, {{ e.words }}</template>
    </p>
    <p v-for="f in findings" :key="f.event"><b class="attend">Finding:</b> {{ f.words }}</p>
    <p v-for="n in notes" :key="n.event" class="soft">{{ n.words }}</p>
    <div v-if="place.item.knowledge?.length" class="oral">
      <p class="what">
        <b>Ask why.</b> <span class="soft">shows {{ codes(place.item.knowledge) }}</span>
        <span v-if="asked.length" class="within"> asked: level {{ asked.at(-1)!.level }}</span>
      </p>
      <div v-if="!lesson.closed" class="levels">
        <button v-for="[level, words] in levels" :key="level" :data-oral="level" @click="ask(level)">
          {{ words }}
        </button>
      </div>
    </div>
    <p v-if="place.item.elements?.length && !place.item.check" class="soft small">
      Shows {{ codes(place.item.elements) }}
    </p>
  </section>
</template>

<style scoped>
.about {
  display: grid;
  gap: 8px;
}

h3 {
  font-size: 18px;
  font-weight: 700;
}

ul {
  margin: 0;
  padding-left: 18px;
}

.oral {
  border-top: 1px solid var(--hair);
  padding-top: 6px;
  display: flex;
  flex-wrap: wrap;
  gap: 4px 12px;
  align-items: center;
}

.levels {
  display: flex;
  gap: 8px;
  flex: 1;
}

.levels button {
  flex: 1;
  min-height: 44px;
  padding: 4px 6px;
  border-color: var(--hair);
}

@media (pointer: coarse) {
  .levels button {
    min-height: 56px;
  }
}
</style>
