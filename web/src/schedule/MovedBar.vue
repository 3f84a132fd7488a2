<script setup lang="ts">
import AppButton from '@/base/AppButton.vue'
import type { Schemas } from '@/schema/schemas'
import type { Moved } from '@/schedule/moving'
import ObstacleList from '@/schedule/ObstacleList.vue'
import { fullDay } from '@/shared/words'

/** What came of a move: done, with what is warned of, or why not and how it would go. */
defineProps<{ moved: Moved; busy: boolean }>()
const emit = defineEmits<{ instead: [way: Schemas['ScheduleAlternative']]; back: []; close: [] }>()
</script>

<template>
  <aside class="bar" role="status" data-part="moved">
    <div>
      <b
        >{{ moved.done ? 'Moved' : 'Cannot be' }}: {{ moved.planned.student }}, {{ fullDay(moved.to.on) }},
        {{ moved.to.at }}, {{ moved.to.registration }}</b
      >
      <ObstacleList :obstacles="moved.against" />
      <p v-if="!moved.done" class="soft">
        {{
          moved.instead.length
            ? 'Free that day, with nothing against it:'
            : 'Nothing near it is free that day.'
        }}
      </p>
    </div>
    <div class="ways">
      <template v-if="!moved.done">
        <AppButton
          v-for="(w, i) in moved.instead"
          :key="w.words"
          :class="{ primary: i === 0 }"
          :disabled="busy"
          :data-instead="w.words"
          @click="emit('instead', w)"
        >
          {{ w.words }}
        </AppButton>
      </template>
      <AppButton :disabled="busy" data-action="put-back" @click="emit('back')">Put it back</AppButton>
      <AppButton v-if="moved.done" class="quiet" @click="emit('close')">Close</AppButton>
    </div>
  </aside>
</template>

<style scoped>
.bar {
  position: sticky;
  bottom: 0;
  z-index: 5;
  display: flex;
  flex-wrap: wrap;
  gap: 8px 32px;
  align-items: center;
  padding: 12px 24px;
  background: var(--paper);
  border-top: 1px solid var(--ink);
}

.bar b {
  font-size: 18px;
}

.ways {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
}
</style>
