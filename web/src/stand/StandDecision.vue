<script setup lang="ts">
import { ref, watch } from 'vue'

import type { Schemas } from '@/api/client'
import { decisionWords } from '@/shared/words'

/** What a student decides of what the needles showed, and what it was. */
const props = defineProps<{ answer: Schemas['StandAnswer'] | null; busy: boolean }>()
const emit = defineEmits<{ decide: [decision: string]; again: []; leave: [] }>()
const deciding = ref(false)
watch(
  () => props.answer,
  () => (deciding.value = false),
)
</script>

<template>
  <div v-if="!answer" class="decide">
    <h3 class="ruled">What is it, and what do you do?</h3>
    <button v-if="!deciding" data-action="decide" @click="deciding = true">Decide</button>
    <div v-else class="ways">
      <button
        v-for="(words, id) in decisionWords"
        :key="id"
        :disabled="busy"
        :data-decide="id"
        @click="emit('decide', id as string)"
      >
        {{ words }}
      </button>
    </div>
  </div>
  <div v-else class="decide" data-part="answer">
    <h3 class="ruled">{{ answer.right ? '●' : '▲' }} {{ answer.words }}</h3>
    <p v-if="!answer.right">
      Right is: <b>{{ decisionWords[answer.asked] }}</b>
    </p>
    <p v-for="f in answer.faults" :key="f.title">
      <b>{{ f.title }}.</b> {{ f.symptom }}; {{ f.why }}.
      <span class="soft">It shows in: {{ f.shows.join(', ').toLowerCase() }}.</span>
    </p>
    <p class="soft small">The server has run it again from what you moved.</p>
    <div class="ways">
      <button @click="emit('again')">Once more</button>
      <button @click="emit('leave')">Another one</button>
    </div>
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
