<script setup lang="ts">
import AppButton from '@/base/AppButton.vue'
import { oralWords } from '@/shared/words'

/** The levels an oral answer can have; name tells the buttons of one row from another's. */
defineProps<{ name: string }>()
const emit = defineEmits<{ grade: [level: number] }>()
const levels = [4, 3, 2, 1]
</script>

<template>
  <div class="levels">
    <AppButton
      v-for="level in levels"
      :key="level"
      v-bind="{ [`data-${name}`]: level }"
      @click="emit('grade', level)"
    >
      {{ oralWords[level] }}
    </AppButton>
  </div>
</template>

<style scoped>
.levels {
  display: flex;
  gap: 8px;
  flex-basis: 100%;
}

button {
  flex: 1;
  min-height: 44px;
  padding: 4px 6px;
  border-color: var(--hair);
}

@media (pointer: coarse) {
  button {
    min-height: 56px;
  }
}
</style>
