<script setup lang="ts">
import { ref } from 'vue'

import { api, Refused, take, type Schemas } from '@/api/client'
import AppDialog from '@/shared/AppDialog.vue'
import ProblemNotice from '@/shared/ProblemNotice.vue'

/** What was found is done: by words, and by what was tested again. What it kept on the ground comes back. */
const props = defineProps<{ finding: Schemas['StoreFinding'] }>()
const open = defineModel<boolean>({ required: true })
const emit = defineEmits<{ returned: [] }>()
const title = props.finding.grounds
  ? `Return ${props.finding.registration} to service`
  : `Close what was found on ${props.finding.registration}`
const words = ref('')
const retest = ref('')
const problem = ref('')
const busy = ref(false)

async function give() {
  problem.value = ''
  busy.value = true
  try {
    const path = { lesson: props.finding.lesson, event: props.finding.event }
    const body = { words: words.value.trim(), retest: retest.value.trim() }
    await take(api.POST('/api/v1/findings/{lesson}/{event}/return', { params: { path }, body }))
    open.value = false
    emit('returned')
  } catch (e) {
    problem.value = e instanceof Refused ? e.message : String(e)
  }
  busy.value = false
}
</script>

<template>
  <AppDialog v-model="open" :title="title">
    <p>{{ finding.words }}</p>
    <form @submit.prevent="give">
      <label
        >What was found and done
        <textarea v-model="words" name="return-words" rows="2" maxlength="2000"></textarea>
      </label>
      <label
        >What was tested again, and what it read
        <textarea v-model="retest" name="return-retest" rows="2" maxlength="2000"></textarea>
      </label>
      <ProblemNotice v-model="problem" />
      <p class="soft small">It stands in your name, and cannot be taken back.</p>
      <button
        class="primary"
        type="submit"
        :disabled="busy || !words.trim() || !retest.trim()"
        data-action="return-aircraft"
      >
        {{ finding.grounds ? 'Return it to service' : 'Close it' }}
      </button>
    </form>
  </AppDialog>
</template>

<style scoped>
form {
  display: grid;
  gap: 12px;
  margin-top: 10px;
}
</style>
