<script setup lang="ts">
import { computed, ref } from 'vue'

import AppButton from '@/base/AppButton.vue'
import AppText from '@/base/AppText.vue'
import { useItemName } from '@/debrief/names'
import { useLesson } from '@/lesson/lesson'
import ProblemNotice from '@/shared/ProblemNotice.vue'
import { useTrying } from '@/shared/trying'
import { markWords } from '@/shared/words'

/** What was said of the lesson, what was added or corrected later, and a box to say more. */
const props = defineProps<{ id: string; mine: boolean; signed: boolean }>()
const lesson = useLesson()
const name = useItemName()
const { problem, busy, tried } = useTrying()
const state = computed(() => lesson.state!)
const comment = ref('')
async function say() {
  if (!comment.value.trim()) return
  await tried(async () => {
    await lesson.touch({ name: 'comment', words: comment.value })
    comment.value = ''
    if (props.signed) await lesson.load(props.id)
  })
}
</script>

<template>
  <section class="part">
    <h2>Comment</h2>
    <ProblemNotice v-model="problem" />
    <p v-for="n in state.debrief" :key="n.event">{{ n.words }}</p>
    <p v-for="a in state.addenda.filter((a) => a.kind !== 'correction')" :key="a.event" class="attend">
      Added later, {{ a.signed ? 'signed' : 'unsigned' }}: {{ a.words || a.kind }}
    </p>
    <p v-for="c in state.corrections ?? []" :key="c.event" class="attend" data-part="correction">
      {{ c.signed ? 'Corrected' : 'To be corrected once it is signed' }}: <b>{{ name(c.item) }}</b> is
      {{ markWords[c.mark] }}, because {{ c.why }}
    </p>
    <form v-if="mine" @submit.prevent="say">
      <AppText
        v-model="comment"
        name="comment"
        rows="2"
        :placeholder="signed ? 'An addendum to the signed record' : 'What to fix next time'"
      />
      <AppButton type="submit" :disabled="!comment.trim() || busy">
        {{ signed ? 'Add to the record' : 'Add the comment' }}
      </AppButton>
    </form>
  </section>
</template>

<style scoped>
form {
  display: grid;
  gap: 8px;
}

form button {
  min-height: 48px;
}
</style>
