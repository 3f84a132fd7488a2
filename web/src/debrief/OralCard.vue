<script setup lang="ts">
import { computed, ref } from 'vue'

import AppButton from '@/base/AppButton.vue'
import LevelRow from '@/lesson/LevelRow.vue'
import { useLesson } from '@/lesson/lesson'

/** Questions of the bank that nobody has asked yet in this lesson, one at a time. */
const lesson = useLesson()
const at = ref(0)
const shown = ref(false)
const items = computed(() => new Set(lesson.places.map((p) => p.item.of || p.item.id)))
const open = computed(() => {
  const asked = new Set((lesson.state?.orals ?? []).map((o) => o.bank))
  const left = (lesson.view?.kit.questions ?? []).filter((q) => !asked.has(q.id))
  const here = (q: (typeof left)[number]) => !q.items?.length || q.items.some((i) => items.value.has(i))
  // Those without an item first: the debrief is their place.
  return [...left.filter((q) => !q.items?.length), ...left.filter((q) => q.items?.length && here(q))]
})
const question = computed(() => open.value[at.value % Math.max(1, open.value.length)])

function grade(level: number) {
  const q = question.value!
  shown.value = false
  lesson.touch({ name: 'oral', words: q.ask, bank: q.id, elements: q.elements ?? [], level })
}
</script>

<template>
  <section v-if="question && !lesson.closed" class="card" aria-label="Oral question" data-part="oral-card">
    <p>
      <b>{{ question.ask }}</b>
      <AppButton class="quiet" data-action="answer" @click="shown = !shown">
        {{ shown ? 'hide the answer' : 'answer' }}
      </AppButton>
      <AppButton class="quiet" data-action="another-question" @click="((at += 1), (shown = false))">
        another of {{ open.length }}
      </AppButton>
    </p>
    <p v-if="shown" class="soft">{{ question.answer }}</p>
    <LevelRow name="card" @grade="grade" />
  </section>
</template>

<style scoped>
.card {
  border-block: 1px solid var(--hair);
  padding: 8px 0;
  margin: 8px 0;
}

.quiet {
  min-height: 32px;
  text-decoration: underline;
}
</style>
