<script setup lang="ts">
import { ref } from 'vue'

import { api, take } from '@/api/client'
import type { Schemas } from '@/schema/schemas'
import AppDialog from '@/shared/AppDialog.vue'
import ProblemNotice from '@/shared/ProblemNotice.vue'
import { useSession } from '@/shared/session'
import { useTrying } from '@/shared/trying'

/** Until when a finding is deferred, and which rule allows it. */
const props = defineProps<{ finding: Schemas['StoreFinding'] }>()
const open = defineModel<boolean>({ required: true })
const emit = defineEmits<{ kept: [] }>()
const session = useSession()
const { problem, busy, tried } = useTrying()
const until = ref(props.finding.until ?? '')
const words = ref(props.finding.rule ?? '')
const defer = () =>
  tried(async () => {
    const path = { lesson: props.finding.lesson, event: props.finding.event }
    const body = { until: until.value, words: words.value.trim() }
    await take(api.POST('/api/v1/findings/{lesson}/{event}/defer', { params: { path }, body }))
    open.value = false
    emit('kept')
  })
</script>

<template>
  <AppDialog v-model="open" :title="`${finding.registration}, deferred until`">
    <p>{{ finding.words }}</p>
    <form @submit.prevent="defer">
      <label
        >The last day
        <input v-model="until" type="date" name="defer-until" :min="session.current?.today" />
      </label>
      <label
        >Which rule allows it, and on which condition
        <input v-model="words" type="text" name="defer-words" maxlength="1000" />
      </label>
      <ProblemNotice v-model="problem" />
      <p class="soft small">
        When the day is over the aircraft stays on the ground until it is returned, or deferred anew.
      </p>
      <button class="primary" type="submit" :disabled="busy || !until || !words.trim()" data-action="defer">
        Keep the limit
      </button>
    </form>
  </AppDialog>
</template>

<style scoped>
form {
  display: grid;
  gap: 10px;
}
</style>
