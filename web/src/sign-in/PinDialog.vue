<script setup lang="ts">
import { ref } from 'vue'

import AppButton from '@/base/AppButton.vue'
import AppInput from '@/base/AppInput.vue'
import { makePasskey, noPasskeys } from '@/sign-in/passkey'
import AppDialog from '@/shared/AppDialog.vue'
import ProblemNotice from '@/shared/ProblemNotice.vue'
import { useSession } from '@/shared/session'
import { inWords } from '@/shared/errors'
import { useTrying } from '@/shared/trying'

/** A number that signs beside the password, and opens this device where the school is not reached. */
const open = defineModel<boolean>({ required: true })
const session = useSession()
const password = ref('')
const pin = ref('')
const again = ref('')
const { problem, tried } = useTrying()
const done = ref(false)
const without = noPasskeys()

function passkey() {
  return tried(async () => {
    session.current = await makePasskey(password.value)
  })
}

async function keep() {
  problem.value = ''
  if (pin.value !== again.value) {
    problem.value = 'The two PINs are not the same.'
    return
  }
  try {
    await session.setPin(password.value, pin.value)
    done.value = true
  } catch (e) {
    problem.value = inWords(e)
  }
}
</script>

<template>
  <AppDialog v-model="open" title="PIN">
    <p v-if="done" class="within" data-part="pin-kept">
      ● Your PIN is kept. It signs lessons, and opens this device for 72 hours after the school was last
      reached.
    </p>
    <form v-else @submit.prevent="keep">
      <p class="soft">
        6 to 12 digits. It signs instead of the password, and opens this device where the school is not
        reached.
        {{ session.current!.hasPin ? 'You have one; the new one takes its place, on this device too.' : '' }}
      </p>
      <ProblemNotice v-model="problem" />
      <label
        >Your password
        <AppInput v-model="password" type="password" name="pin-password" autocomplete="current-password"
      /></label>
      <label
        >PIN
        <AppInput
          v-model="pin"
          type="password"
          name="new-pin"
          inputmode="numeric"
          maxlength="12"
          autocomplete="off"
      /></label>
      <label
        >The same again
        <AppInput
          v-model="again"
          type="password"
          name="new-pin-again"
          inputmode="numeric"
          maxlength="12"
          autocomplete="off"
      /></label>
      <AppButton class="primary" type="submit" :disabled="!password || !pin" data-action="keep-pin">
        Keep the PIN
      </AppButton>
    </form>
    <section class="passkey" data-part="passkey">
      <p v-if="without" class="soft">{{ without }}</p>
      <template v-else>
        <p v-if="session.current!.hasPasskey" class="within">● A passkey of yours is kept.</p>
        <p v-else class="soft">With a passkey a finger, a face or this device’s own lock signs.</p>
        <AppButton :disabled="!password" data-action="make-passkey" @click="passkey">
          Make a passkey on this device
        </AppButton>
        <p v-if="!password" class="soft small">It asks for your password, above.</p>
      </template>
    </section>
  </AppDialog>
</template>

<style scoped>
form,
.passkey {
  display: grid;
  gap: 12px;
}
</style>
