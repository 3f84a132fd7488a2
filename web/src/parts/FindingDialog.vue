<script setup lang="ts">
import 'element-plus/theme-chalk/el-dialog.css'
import 'element-plus/theme-chalk/el-overlay.css'

import { ElDialog } from 'element-plus'
import { ref, watch } from 'vue'

import { useLesson } from '../stores/lesson'
import { uuidv7 } from '../stores/outbox'
import { decisionWords } from '../words'

const props = defineProps<{ reading: string; suggested: string }>()
const open = defineModel<boolean>({ required: true })
const lesson = useLesson()
const words = ref('')
const told = ref('')
const why = ref('')
const decision = ref('')
const problem = ref('')

watch(open, (now) => {
  if (!now) return
  words.value = props.suggested
  told.value = why.value = decision.value = problem.value = ''
})

async function write() {
  if (!words.value.trim()) return (problem.value = 'Say what was found.')
  if (!decision.value) return (problem.value = 'Choose what was decided.')
  if (!told.value.trim() && decision.value !== 'normal-for-type')
    return (problem.value = 'Name who was told.')
  const marks = [
    {
      kind: 'finding',
      payload: { item: lesson.live?.item.id, reading: props.reading || undefined, words: words.value.trim() },
    },
  ]
  const before = new Set(lesson.state?.findings.map((f) => f.event))
  await lesson.touch(marks)
  const event = lesson.state?.findings.find((f) => !before.has(f.event))?.event ?? uuidv7()
  await lesson.touch([
    {
      kind: 'decision',
      payload: { about: event, decision: decision.value, told: told.value.trim(), why: why.value.trim() },
    },
  ])
  open.value = false
  return undefined
}
</script>

<template>
  <el-dialog
    v-model="open"
    :title="`Finding at ${lesson.live?.item.challenge ?? ''}`"
    width="min(700px, 94vw)"
    append-to-body
  >
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
      <label>Who was told <input v-model="told" type="text" name="told" maxlength="200" /></label>
      <label>Why <input v-model="why" type="text" name="why" maxlength="1000" /></label>
      <p v-if="problem" class="problem" role="alert">{{ problem }}</p>
      <button class="primary" type="submit" data-action="write-finding">Write the finding</button>
    </form>
  </el-dialog>
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
