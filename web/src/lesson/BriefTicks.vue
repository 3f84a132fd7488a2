<script setup lang="ts">
import { computed, ref } from 'vue'

import AppButton from '@/base/AppButton.vue'
import AppCheck from '@/base/AppCheck.vue'
import { useLesson } from '@/lesson/lesson'
import type { Place } from '@/lesson/places'

/** The elements of a spoken brief, ticked as they are heard, and kept as a note. */
const props = defineProps<{ place: Place }>()
const lesson = useLesson()
const heard = ref<string[]>([])
const kept = computed(() =>
  (lesson.state?.notes ?? []).findLast((n) => n.item === props.place.item.id && n.words.startsWith('Brief:')),
)
const keep = () => lesson.touch({ name: 'brief', item: props.place.item.id, heard: heard.value })
</script>

<template>
  <section class="ticks" aria-label="Elements of the brief">
    <p>
      <b>Heard</b> <span class="soft">{{ heard.length }} of {{ lesson.brief.length }}</span>
      <router-link to="/day" target="_blank">the day sheet</router-link>
    </p>
    <div class="all">
      <label v-for="e in lesson.brief" :key="e.id" :class="{ on: heard.includes(e.id) }">
        <AppCheck
          :model-value="heard.includes(e.id)"
          @update:model-value="heard = $event ? [...heard, e.id] : heard.filter((o) => o !== e.id)"
          :data-heard="e.id"
        />
        {{ e.label }}
      </label>
    </div>
    <AppButton v-if="!lesson.closed" data-action="keep-brief" :disabled="!heard.length" @click="keep">
      Keep what was heard
    </AppButton>
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
