<script setup lang="ts">
/** The levels an oral answer can have; name tells the buttons of one row from another's. */
defineProps<{ name: string }>()
const emit = defineEmits<{ grade: [level: number] }>()
const levels = [
  [4, 'knew it'],
  [3, 'small slip'],
  [2, 'after a word'],
  [1, 'did not know'],
] as const
</script>

<template>
  <div class="levels">
    <button
      v-for="[level, words] in levels"
      :key="level"
      v-bind="{ [`data-${name}`]: level }"
      @click="emit('grade', level)"
    >
      {{ words }}
    </button>
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
