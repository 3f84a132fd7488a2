<script setup lang="ts">
import { ref } from 'vue'
import { useRouter } from 'vue-router'

import { api, take } from '@/api/client'
import AppButton from '@/base/AppButton.vue'
import AppInput from '@/base/AppInput.vue'
import { home, useSession } from '@/shared/session'
import { useTrying } from '@/shared/trying'

/** Whoever is locked out comes back by a one-time code of the school, with another password. */
const props = defineProps<{ id: string }>()
const session = useSession()
const router = useRouter()
const code = ref('')
const password = ref('')
const again = ref('')
const { problem, busy, tried } = useTrying()

const enter = () =>
  tried(async () => {
    if (password.value !== again.value) throw new Error('The two passwords are not the same.')
    const body = { code: code.value, password: password.value }
    await session.entered(
      await take(api.POST('/api/v1/recover/{id}', { params: { path: { id: props.id } }, body })),
    )
    await router.push(home(session.current!))
  })
</script>

<template>
  <main class="door">
    <h1>Back to your account</h1>
    <form @submit.prevent="enter">
      <p class="soft">
        PIN, passkeys and one-time codes of this account end with it, and every session: set them up anew.
      </p>
      <label
        >The code you were given
        <AppInput v-model="code" type="text" name="recover-code" autocomplete="off" maxlength="40" autofocus
      /></label>
      <label
        >A new password, ten letters or more
        <AppInput
          v-model="password"
          type="password"
          name="recover-password"
          autocomplete="new-password"
          maxlength="200"
      /></label>
      <label
        >The same again
        <AppInput
          v-model="again"
          type="password"
          name="recover-again"
          autocomplete="new-password"
          maxlength="200"
      /></label>
      <p v-if="problem" class="problem" role="alert">{{ problem }}</p>
      <AppButton class="primary" type="submit" :disabled="busy || !code.trim() || !password"
        >Come in</AppButton
      >
    </form>
  </main>
</template>
