<script setup lang="ts">
import { computed, ref, watch } from 'vue'

import { useLesson } from '@/lesson/lesson'
import { RuleError } from '@/rules/rules'
import AppDialog from '@/shared/AppDialog.vue'
import SearchSelect from '@/shared/SearchSelect.vue'
import { decisionWords } from '@/shared/words'

const props = defineProps<{ reading: string; suggested: string }>()
const open = defineModel<boolean>({ required: true })
const lesson = useLesson()
const words = ref('')
const told = ref('')
const why = ref('')
const decision = ref('')
const problem = ref('')
const people = computed(() => (lesson.view?.people ?? []).map((p) => [p, p] as const))

watch(open, (now) => {
  if (!now) return
  words.value = props.suggested
  told.value = why.value = decision.value = problem.value = ''
})

const labels: Record<string, string> = {
  words: 'What was found',
  decision: 'The decision',
  told: 'Who was told',
  why: 'Why',
}

function write() {
  try {
    lesson.touch({
      name: 'finding',
      about: props.reading,
      words: words.value,
      decision: decision.value,
      told: told.value,
      why: why.value,
    })
    open.value = false
  } catch (e) {
    if (!(e instanceof RuleError)) throw e
    problem.value = e.said(labels)
  }
}
</script>

<template>
  <AppDialog v-model="open" :title="`Finding at ${lesson.live?.item.challenge ?? ''}`">
    <form class="form" novalidate @submit.prevent="write">
      <label
        >What was found, with its number
        <textarea v-model="words" name="words" rows="3" maxlength="2000"></textarea>
      </label>
      <div class="decisions">
        <button
          v-for="(label, d) in decisionWords"
          :key="d"
          type="button"
          :class="{ chosen: decision === d }"
          :aria-pressed="decision === d"
          :data-decision="d"
          @click="decision = d"
        >
          {{ label }}
        </button>
      </div>
      <label
        >Who was told
        <SearchSelect v-model="told" name="told" :options="people" none="choose, or write a name" own
      /></label>
      <label>Why <input v-model="why" type="text" name="why" maxlength="1000" /></label>
      <p v-if="problem" class="problem" role="alert">{{ problem }}</p>
      <button class="primary" type="submit" data-action="write-finding">Write the finding</button>
    </form>
  </AppDialog>
</template>

<style scoped>
.form {
  display: grid;
  gap: 12px;
}

.decisions {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}

.decisions button {
  min-height: 48px;
  flex: 1 1 auto;
}
</style>
