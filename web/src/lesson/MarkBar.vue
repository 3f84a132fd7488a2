<script setup lang="ts">
import { computed } from 'vue'

import AppButton from '@/base/AppButton.vue'
import { marks, runMarks, type Word } from '@/shared/words'

/** The marks, always in the same place; a maintenance run grades nobody, and has fewer. */
const props = defineProps<{ flow: boolean; canUndo: boolean; run: boolean }>()
const emit = defineEmits<{ mark: [name: string]; words: [name: string] }>()
/** A long press asks for words; the touch that ends it is no mark of its own. */
const longPress = 600
let timer: ReturnType<typeof setTimeout> | undefined
let long = false
function press(name: string) {
  long = false
  timer = setTimeout(() => {
    long = true
    emit('words', name)
  }, longPress)
}
const lift = () => clearTimeout(timer)
function touch(name: string) {
  if (!long) emit('mark', name)
  long = false
}
const touched = computed(() => (props.run ? runMarks : marks.filter((m) => m.key)))
const keyName = (m: Word) => (m.key === ' ' ? 'space' : m.key!.toUpperCase())
</script>

<template>
  <div :class="['bar', { run }]" role="toolbar" aria-label="Marks">
    <AppButton
      v-for="m in touched"
      :key="m.id"
      :class="{ primary: m.id === 'done' }"
      :data-mark="m.id"
      :title="`${m.words}; held, with words`"
      @pointerdown="press(m.id)"
      @pointerup="lift"
      @pointerleave="lift"
      @pointercancel="lift"
      @contextmenu.prevent
      @click="touch(m.id)"
    >
      {{ m.id === 'self-fixed' && flow ? 'Found by list' : m.words
      }}<small class="figure">{{ keyName(m) }}</small>
    </AppButton>
    <span class="gap"></span>
    <AppButton class="aside" data-mark="more" @click="emit('mark', 'more')">
      More<small class="figure">M</small>
    </AppButton>
    <AppButton v-if="!run" class="aside" data-mark="error" @click="emit('mark', 'error')">
      Error<small class="figure">E</small>
    </AppButton>
    <AppButton class="aside" data-mark="finding" @click="emit('mark', 'finding')">
      Finding<small class="figure">F</small>
    </AppButton>
    <AppButton class="undo" data-mark="undo" :disabled="!canUndo" @click="emit('mark', 'undo')">
      Undo<small class="figure">Z</small>
    </AppButton>
  </div>
</template>

<style scoped>
.bar {
  display: grid;
  grid-template-columns: 196px repeat(6, minmax(0, 1fr)) 8px repeat(4, minmax(0, 0.9fr));
  gap: 10px;
  padding: 13px 24px;
  background: var(--sheet);
  border-top: 1px solid var(--hair);
}

.bar.run {
  grid-template-columns: minmax(0, 2fr) minmax(0, 1fr) 8px repeat(3, minmax(0, 1fr));
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

.undo {
  border-color: var(--hair);
}

@media (max-width: 1150px) {
  .bar {
    grid-template-columns: repeat(6, minmax(0, 1fr));
    gap: 8px;
    padding: 8px 12px;
  }

  .bar.run {
    grid-template-columns: minmax(0, 2fr) repeat(4, minmax(0, 1fr));
  }

  .gap {
    display: none;
  }

  button {
    min-height: 60px;
    font-size: 15px;
  }
}

@media (max-width: 560px) {
  .bar {
    gap: 6px;
    padding: 8px;
  }

  button,
  .primary {
    font-size: 12px;
    min-height: 56px;
    padding: 0;
  }

  small {
    display: none;
  }
}
</style>
