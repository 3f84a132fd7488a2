<script setup lang="ts">
import { computed, ref } from 'vue'

import { useLesson, type Place } from '../stores/lesson'

/** The elements of a spoken brief, ticked as they are heard, and kept as a note. */
const props = defineProps<{ place: Place }>()
const lesson = useLesson()
const heard = ref<string[]>([])
const helicopter = computed(() => lesson.view?.book.type.class === 'helicopter')
const elements = computed(() => [
  ['runway', helicopter.value ? 'where, and what lies ahead' : 'runway and length'],
  ['wind', 'wind, across and along'],
  ['configuration', 'configuration'],
  ['speeds', 'speeds'],
  ['performance', helicopter.value ? 'power needed and its limit' : 'distance needed'],
  ['flying-by', helicopter.value ? 'when to go back down' : 'the point to be flying by'],
  ['before-rotation', helicopter.value ? 'failure in the hover' : 'failure before rotation'],
  ...(helicopter.value ? [] : [['runway-left', 'failure with runway left']]),
  ['no-runway-low', 'failure low'],
  ['no-runway-high', 'failure higher, and the height'],
  ['who', 'who flies, who reads'],
])
const missing = computed(() => elements.value.filter(([id]) => !heard.value.includes(id!)))
const kept = computed(() =>
  (lesson.state?.notes ?? []).findLast((n) => n.item === props.place.item.id && n.words.startsWith('Brief:')),
)

const keep = () =>
  lesson.touch([
    {
      kind: 'note',
      payload: {
        item: props.place.item.id,
        words: `Brief: ${heard.value.length} of ${elements.value.length} heard${
          missing.value.length ? `; not heard: ${missing.value.map(([, w]) => w).join(', ')}` : ''
        }.`,
      },
    },
  ])
</script>

<template>
  <section class="ticks" aria-label="Elements of the brief">
    <p>
      <b>Heard</b> <span class="soft">{{ heard.length }} of {{ elements.length }}</span>
      <router-link to="/day" target="_blank">the day sheet</router-link>
    </p>
    <div class="all">
      <label v-for="[id, words] in elements" :key="id" :class="{ on: heard.includes(id!) }">
        <input v-model="heard" type="checkbox" :value="id" :data-heard="id" /> {{ words }}
      </label>
    </div>
    <button v-if="!lesson.closed" data-action="keep-brief" :disabled="!heard.length" @click="keep">
      Keep what was heard
    </button>
    <p v-if="kept" class="soft">{{ kept.words }}</p>
  </section>
</template>

<style scoped>
.ticks {
  display: grid;
  gap: 6px;
}

.ticks p {
  display: flex;
  gap: 14px;
}

.all {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 4px;
}

label {
  display: flex;
  gap: 8px;
  align-items: center;
  min-height: 44px;
  padding: 0 8px;
  border: 1px solid var(--hair);
  border-radius: 3px;
  line-height: 1.15;
}

.on {
  background: var(--within-wash);
}
</style>
