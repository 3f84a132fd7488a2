<script setup lang="ts">
import { ref } from 'vue'

import AppButton from '@/base/AppButton.vue'
import AppInput from '@/base/AppInput.vue'
import { decisionWords } from '@/shared/words'

/** What a student decides of what the needles showed: it ends the practice. */
defineProps<{ busy: boolean }>()
const emit = defineEmits<{ decide: [decision: string, why: string] }>()
const deciding = ref(false)
const why = ref('')
</script>

<template>
  <AppButton v-if="!deciding" class="quiet" data-action="decide" @click="deciding = true">
    decide, and end
  </AppButton>
  <div v-else class="decide">
    <b>What is it, and what do you do?</b>
    <AppInput v-model="why" type="text" maxlength="400" aria-label="Why" placeholder="why, in a few words" />
    <span class="ways">
      <AppButton
        v-for="(words, id) in decisionWords"
        :key="id"
        :disabled="busy"
        :data-decide="id"
        @click="emit('decide', id as string, why)"
      >
        {{ words }}
      </AppButton>
      <AppButton class="quiet" @click="deciding = false">not yet</AppButton>
    </span>
  </div>
</template>

<style scoped>
.decide {
  display: grid;
  gap: 8px;
  flex-basis: 100%;
  border-top: 1px solid var(--hair);
  padding-top: 8px;
}

input {
  min-height: 40px;
  font: inherit;
  color: var(--ink);
  background: var(--sheet);
  border: 1px solid var(--ink);
  border-radius: 3px;
  padding: 0 8px;
}

.ways {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
</style>
