<script setup lang="ts">
import { ref } from 'vue'

import { api, take } from '@/api/client'
import AppButton from '@/base/AppButton.vue'
import AppInput from '@/base/AppInput.vue'
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
        <AppInput v-model="until" type="date" name="defer-until" :min="session.current?.today" />
      </label>
      <label
        >Which rule allows it, and on which condition
        <AppInput v-model="words" type="text" name="defer-words" maxlength="1000" />
      </label>
      <ProblemNotice v-model="problem" />
      <p class="soft small">
        When the day is over the aircraft stays on the ground until it is returned, or deferred anew.
      </p>
      <AppButton
        class="primary"
        type="submit"
        :disabled="busy || !until || !words.trim()"
        data-action="defer"
      >
        Keep the limit
      </AppButton>
    </form>
  </AppDialog>
</template>

<style scoped>
form {
  display: grid;
  gap: 10px;
}
</style>
