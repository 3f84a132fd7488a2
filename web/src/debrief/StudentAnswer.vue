<script setup lang="ts">
import { computed, ref } from 'vue'

import AppButton from '@/base/AppButton.vue'
import AppText from '@/base/AppText.vue'
import SignBox from '@/sign-in/SignBox.vue'
import { useLesson } from '@/lesson/lesson'
import type { Again } from '@/lesson/signing'
import { dayWords } from '@/shared/words'
import { inWords } from '@/shared/errors'

/** What the student says to the signed lesson: acknowledged, or not, with words. */
const props = defineProps<{ mine: boolean; of: string }>()
const lesson = useLesson()
const words = ref('')
const refuses = ref(false)
const problem = ref('')
const busy = ref(false)
const given = computed(() => lesson.state?.answer)

async function answer(again: Again) {
  problem.value = ''
  if (refuses.value && !words.value.trim()) {
    problem.value = 'Say in words what you do not agree with.'
    return
  }
  busy.value = true
  try {
    await lesson.answer(again, props.of, refuses.value, words.value.trim())
  } catch (e) {
    problem.value = inWords(e)
  }
  busy.value = false
}
</script>

<template>
  <section v-if="given || mine" class="part" data-part="answer">
    <h2>{{ mine ? 'Your answer' : 'The student’s answer' }}</h2>
    <p v-if="given" :class="given.refused ? 'out' : 'within'">
      {{ given.refused ? '■ Not acknowledged' : '● Acknowledged' }} on {{ dayWords(given.at.slice(0, 10)) }}
    </p>
    <p v-if="given?.words">“{{ given.words }}”</p>
    <template v-if="mine && !given">
      <div class="two">
        <AppButton :class="{ chosen: !refuses }" :aria-pressed="!refuses" @click="refuses = false">
          I have seen it
        </AppButton>
        <AppButton
          :class="{ chosen: refuses }"
          :aria-pressed="refuses"
          data-action="refuse"
          @click="refuses = true"
        >
          I do not agree
        </AppButton>
      </div>
      <label
        >{{ refuses ? 'What you do not agree with' : 'Remarks, if you like' }}
        <AppText v-model="words" name="answer-words" rows="2" maxlength="2000" />
      </label>
      <p v-if="problem" class="problem" role="alert">{{ problem }}</p>
      <SignBox
        :words="refuses ? 'Sign that I do not agree' : 'Acknowledge the lesson'"
        :busy="busy"
        action="answer"
        @sign="answer"
      />
    </template>
  </section>
</template>

<style scoped>
.two {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px;
}
</style>
