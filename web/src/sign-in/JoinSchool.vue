<script setup lang="ts">
import { ref, shallowRef } from 'vue'
import { useRouter } from 'vue-router'

import { api, take } from '@/api/client'
import AppButton from '@/base/AppButton.vue'
import AppInput from '@/base/AppInput.vue'
import type { Schemas } from '@/schema/schemas'
import { home, useSession } from '@/shared/session'
import { roleWords } from '@/shared/words'
import { useCode } from '@/sign-in/code'
import { useTrying } from '@/shared/trying'

/** Whoever is invited comes in: by the code, then with a password of their own. */
const props = defineProps<{ school: string; id: string }>()
const session = useSession()
const router = useRouter()
const code = ref('')
const password = ref('')
const again = ref('')
const joining = shallowRef<Schemas['Joining'] | null>(null)
const { problem, busy, tried } = useTrying()
const { code: second, asked, asking: askingCode } = useCode()
const path = { school: props.school, id: props.id }

const look = () =>
  tried(async () => {
    const body = { code: code.value }
    joining.value = await take(api.POST('/api/v1/join/{school}/{id}', { params: { path }, body }))
  })
const enter = () =>
  tried(async () => {
    if (!joining.value!.known && password.value !== again.value) {
      problem.value = 'The two passwords are not the same.'
      return
    }
    await askingCode(() =>
      session.join(path, { code: code.value, password: password.value, second: second.value || undefined }),
    )
    await router.push(home(session.current!))
  })
</script>

<template>
  <main class="door">
    <h1>{{ joining ? joining.school : 'You are invited' }}</h1>
    <form v-if="!joining" @submit.prevent="look">
      <label
        >The code you were given
        <AppInput v-model="code" type="text" name="join-code" autocomplete="off" maxlength="40" autofocus
      /></label>
      <p v-if="problem" class="problem" role="alert">{{ problem }}</p>
      <AppButton class="primary" type="submit" :disabled="busy || !code.trim()">Go on</AppButton>
    </form>
    <form v-else @submit.prevent="enter">
      <p>
        <b>{{ joining.name }}</b>, {{ (joining.roles ?? []).map((r) => roleWords[r] ?? r).join(', ') }}. You
        sign in by {{ joining.email }}.
      </p>
      <p v-if="joining.known" class="soft">
        This address is known here already: its password is the same at every school.
      </p>
      <label
        >{{ joining.known ? 'Your password' : 'A password of your own, ten letters or more' }}
        <AppInput
          v-model="password"
          type="password"
          name="join-password"
          :autocomplete="joining.known ? 'current-password' : 'new-password'"
          maxlength="200"
      /></label>
      <label v-if="!joining.known"
        >The same again
        <AppInput
          v-model="again"
          type="password"
          name="join-again"
          autocomplete="new-password"
          maxlength="200"
      /></label>
      <label v-if="asked"
        >The code that your authenticator shows
        <AppInput
          v-model="second"
          type="text"
          name="sign-in-code"
          inputmode="numeric"
          autocomplete="one-time-code"
          maxlength="12"
      /></label>
      <p v-if="problem" class="problem" role="alert">{{ problem }}</p>
      <AppButton class="primary" type="submit" :disabled="busy || !password">Come in</AppButton>
    </form>
  </main>
</template>
