<script setup lang="ts">
import { ref } from 'vue'

import { Refused } from '@/api/client'
import AppButton from '@/base/AppButton.vue'
import AppInput from '@/base/AppInput.vue'
import type { Schemas } from '@/schema/schemas'
import ProblemNotice from '@/shared/ProblemNotice.vue'
import { useTrying } from '@/shared/trying'
import WelcomeCodes from '@/shared/WelcomeCodes.vue'

/** Takes a school over that was taken out elsewhere as one file. */
const emit = defineEmits<{ back: [] }>()
const { problem, busy, tried } = useTrying()
const code = ref('')
const key = ref('')
const file = ref<File | null>(null)
const taken = ref('')
const invited = ref<Schemas['Welcome'][]>([])
let gate: AbortController | undefined
const pick = (e: Event) => (file.value = (e.target as HTMLInputElement).files?.[0] ?? null)
const go = () =>
  tried(async () => {
    gate = new AbortController()
    const answer = await fetch('/api/v1/setup/school', {
      method: 'POST',
      headers: {
        'Content-Type': 'application/zip',
        'Jetprimer-Code': encodeURIComponent(code.value),
        'Jetprimer-Key': encodeURIComponent(key.value),
      },
      body: file.value!,
      signal: gate.signal,
    })
    const body = (await answer.json()) as { detail?: string } & Partial<Schemas['TakenOver']>
    if (!answer.ok) throw new Refused(answer.status, body)
    invited.value = body.invited ?? []
    taken.value = body.school ?? ''
  })
</script>

<template>
  <section class="part">
    <template v-if="taken">
      <h1 data-part="taken">{{ taken }} is here</h1>
      <p>Everybody signs in as before.</p>
      <template v-if="invited.length">
        <p>These have an account here already, and come in by their link and code:</p>
        <WelcomeCodes :invited="invited" />
      </template>
      <router-link class="button primary" to="/sign-in">Sign in</router-link>
    </template>
    <form v-else novalidate @submit.prevent="go">
      <h1>Take over a school</h1>
      <p class="soft">
        From the one file that <span class="figure">jetprimer export-school</span> made, with its key. All of
        it is taken over at once, or nothing.
      </p>
      <ProblemNotice v-model="problem" />
      <label
        >One-time code that the program printed
        <AppInput v-model="code" type="text" name="moved-code" autocomplete="off"
      /></label>
      <label>The school’s file <AppInput type="file" name="moved-file" accept=".zip" @change="pick" /></label>
      <label
        >Key of the file <AppInput v-model="key" type="text" name="moved-key" autocomplete="off"
      /></label>
      <AppButton
        class="primary"
        type="submit"
        :disabled="busy || !file || !code || !key"
        data-action="take-over"
      >
        {{ busy ? 'Reading, and holding every signature to its chain…' : 'Take it over' }}
      </AppButton>
      <AppButton v-if="busy" @click="gate?.abort()">Stop; nothing is kept</AppButton>
      <AppButton v-else class="quiet" @click="emit('back')">Begin a new school instead</AppButton>
    </form>
  </section>
</template>

<style scoped>
form {
  display: grid;
  gap: 12px;
  max-width: 620px;
}

h1 {
  font-size: 26px;
  font-weight: 700;
}
</style>
