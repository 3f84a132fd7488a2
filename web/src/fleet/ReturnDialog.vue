<script setup lang="ts">
import { computed, onMounted, ref, shallowRef } from 'vue'

import { api, take } from '@/api/client'
import AppButton from '@/base/AppButton.vue'
import AppRadio from '@/base/AppRadio.vue'
import AppText from '@/base/AppText.vue'
import type { Schemas } from '@/schema/schemas'
import AppDialog from '@/shared/AppDialog.vue'
import ProblemNotice from '@/shared/ProblemNotice.vue'
import { dayWords } from '@/shared/words'
import { useTrying } from '@/shared/trying'

/**
 * What was found is done: by words, and by what was tested again. What a check kept on the ground comes back
 * by a signed maintenance run that answers it.
 */
const props = defineProps<{ finding: Schemas['StoreFinding'] }>()
const open = defineModel<boolean>({ required: true })
const emit = defineEmits<{ returned: [] }>()
const title = props.finding.grounds
  ? `Return ${props.finding.registration} to service`
  : `Close what was found on ${props.finding.registration}`
const words = ref('')
const retest = ref('')
const run = ref('')
const behind = shallowRef<Schemas['RetestsView'] | null>(null)
const path = { lesson: props.finding.lesson, event: props.finding.event }
const { problem, busy, tried } = useTrying()
onMounted(() =>
  tried(async () => {
    behind.value = await take(api.GET('/api/v1/findings/{lesson}/{event}/retests', { params: { path } }))
    run.value = behind.value.runs.find((r) => r.answers)?.id ?? ''
  }),
)
/** A check grounded it: words alone do not return it. */
const measured = computed(() => props.finding.grounds && (behind.value?.failed.length ?? 0) > 0)
const give = () =>
  tried(async () => {
    const body = { words: words.value.trim(), retest: retest.value.trim(), run: run.value }
    await take(api.POST('/api/v1/findings/{lesson}/{event}/return', { params: { path }, body }))
    open.value = false
    emit('returned')
  })
</script>

<template>
  <AppDialog v-model="open" :title="title">
    <p>{{ finding.words }}</p>
    <form @submit.prevent="give">
      <label
        >What was found and done
        <AppText v-model="words" name="return-words" rows="2" maxlength="2000" />
      </label>
      <fieldset v-if="behind?.runs.length" data-part="runs">
        <legend>The run that answers it</legend>
        <label v-for="r in behind.runs" :key="r.id" class="run">
          <AppRadio v-model="run" name="return-run" :value="r.id" :disabled="!r.answers" />
          <span
            >{{ dayWords(r.openedAt.slice(0, 10)) }}, {{ r.instructor }}:
            <b :class="r.answers ? 'within' : 'attend'">{{ r.answers ? '●' : '▲' }} {{ r.words }}</b></span
          >
        </label>
      </fieldset>
      <p v-if="measured && !run" class="attend" data-part="needs-run">
        ▲ {{ behind!.failed.join(', ') }} kept it on the ground: it comes back by a signed maintenance run in
        which that is measured again.
        <router-link :to="{ path: `/aircraft/${finding.registration}`, query: { run: finding.event } }"
          >Open a maintenance run</router-link
        >
      </p>
      <label v-if="!measured"
        >What was tested again, and what it read
        <AppText v-model="retest" name="return-retest" rows="2" maxlength="2000" />
      </label>
      <ProblemNotice v-model="problem" />
      <p class="soft small">It stands in your name, and cannot be taken back.</p>
      <AppButton
        class="primary"
        type="submit"
        :disabled="busy || !behind || !words.trim() || (measured ? !run : !retest.trim() && !run)"
        data-action="return-aircraft"
      >
        {{ finding.grounds ? 'Return it to service' : 'Close it' }}
      </AppButton>
    </form>
  </AppDialog>
</template>

<style scoped>
form {
  display: grid;
  gap: 12px;
  margin-top: 10px;
}

fieldset {
  border: 0;
  padding: 0;
}

.run {
  display: flex;
  align-items: center;
  gap: 10px;
  min-height: 44px;
}
</style>
