<script setup lang="ts">
import { runMarks } from '@/shared/words'

/** What there is to touch in a maintenance run: on to the next check, and no grade. */
defineProps<{ canUndo: boolean }>()
const emit = defineEmits<{ mark: [name: string] }>()
</script>

<template>
  <div class="bar" role="toolbar" aria-label="Run">
    <button
      v-for="(m, i) in runMarks"
      :key="m.id"
      :class="{ primary: !i }"
      :data-mark="m.id"
      @click="emit('mark', m.id)"
    >
      {{ m.words }}<small class="figure">{{ m.key === ' ' ? 'space' : m.key?.toUpperCase() }}</small>
    </button>
    <button class="aside" data-mark="more" @click="emit('mark', 'more')">
      More<small class="figure">M</small>
    </button>
    <button class="aside" data-mark="finding" @click="emit('mark', 'finding')">
      Finding<small class="figure">F</small>
    </button>
    <button data-mark="undo" :disabled="!canUndo" @click="emit('mark', 'undo')">
      Undo<small class="figure">Z</small>
    </button>
  </div>
</template>

<style scoped>
.bar {
  display: grid;
  grid-template-columns: 2fr repeat(4, minmax(0, 1fr));
  gap: 10px;
  padding: 13px 24px;
  background: var(--sheet);
  border-top: 1px solid var(--hair);
}

button {
  min-height: 72px;
  padding: 4px 2px;
  font-size: 17px;
  line-height: 1.15;
}

.primary {
  font-size: 22px;
}

small {
  display: block;
  font-size: 12px;
  font-weight: 400;
  opacity: 0.8;
  margin-top: 4px;
}

.aside {
  border-style: dashed;
}

@media (max-width: 560px) {
  .bar {
    gap: 6px;
    padding: 8px;
  }

  button,
  .primary {
    font-size: 13px;
    min-height: 56px;
    padding: 0;
  }

  small {
    display: none;
  }
}
</style>
