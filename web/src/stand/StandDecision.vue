<script setup lang="ts">
import { ref } from 'vue'

import { decisionWords } from '@/shared/words'

/** What a student decides of what the needles showed: it ends the practice. */
defineProps<{ busy: boolean }>()
const emit = defineEmits<{ decide: [decision: string, why: string] }>()
const deciding = ref(false)
const why = ref('')
</script>

<template>
  <div class="decide">
    <h3 class="ruled">What is it, and what do you do?</h3>
    <button v-if="!deciding" data-action="decide" @click="deciding = true">Decide, and end</button>
    <template v-else>
      <input v-model="why" type="text" maxlength="400" aria-label="Why" placeholder="why, in a few words" />
      <div class="ways">
        <button
          v-for="(words, id) in decisionWords"
          :key="id"
          :disabled="busy"
          :data-decide="id"
          @click="emit('decide', id as string, why)"
        >
          {{ words }}
        </button>
        <button class="quiet" @click="deciding = false">not yet</button>
      </div>
    </template>
  </div>
</template>

<style scoped>
.decide {
  display: grid;
  gap: 8px;
}

.ways {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
}
</style>
