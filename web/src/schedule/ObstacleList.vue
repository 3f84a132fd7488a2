<script setup lang="ts">
import AppButton from '@/base/AppButton.vue'
import type { Schemas } from '@/schema/schemas'

/** What stands against a lesson, and the ways in which it would go. */
defineProps<{
  obstacles: Schemas['ScheduleObstacle'][]
  instead?: Schemas['ScheduleAlternative'][]
  busy?: boolean
}>()
const emit = defineEmits<{ instead: [way: Schemas['ScheduleAlternative']] }>()
</script>

<template>
  <p v-for="o in obstacles" :key="o.words" :class="o.refused ? 'out' : 'attend'">
    {{ o.refused ? '■' : '▲' }} {{ o.words }}
  </p>
  <p v-if="instead?.length" class="instead">
    <span class="soft">Free that day, with nothing against it:</span>
    <AppButton
      v-for="w in instead"
      :key="w.words"
      :disabled="busy"
      :data-instead="w.words"
      @click="emit('instead', w)"
    >
      {{ w.words }}
    </AppButton>
  </p>
</template>

<style scoped>
.instead {
  display: flex;
  flex-wrap: wrap;
  gap: 10px 16px;
  align-items: center;
}
</style>
