<script setup lang="ts">
import { computed, ref } from 'vue'

import AppButton from '@/base/AppButton.vue'
import AppInput from '@/base/AppInput.vue'
import { askPasskey, noPasskeys } from '@/sign-in/passkey'
import { reach } from '@/device/reach'
import type { Again } from '@/lesson/signing'
import { useSession } from '@/shared/session'
import { useTrying } from '@/shared/trying'

/** Who one is, once more: by PIN where one is set, else by password. */
const props = defineProps<{ words: string; busy: boolean; off?: boolean; action: string }>()
const emit = defineEmits<{ sign: [again: Again] }>()
const session = useSession()
const byPassword = ref(false)
const typed = ref('')
const empty = ref(false)
const finger = computed(() => session.current!.hasPasskey && !noPasskeys() && !reach.away)
const { problem, tried } = useTrying()
function byFinger() {
  return tried(async () => {
    emit('sign', { passkey: await askPasskey() })
  })
}
const pin = computed(() => session.current!.hasPin && !byPassword.value)

function sign() {
  empty.value = !typed.value
  if (empty.value) return
  emit('sign', pin.value ? { pin: typed.value } : { password: typed.value })
  typed.value = ''
}
</script>

<template>
  <div v-if="finger" class="sign">
    <AppButton
      class="primary"
      :disabled="props.busy || off"
      :data-action="`${action}-passkey`"
      @click="byFinger"
    >
      {{ words }} with the passkey
    </AppButton>
    <p v-if="problem" class="problem" role="alert">{{ problem }}</p>
  </div>
  <form class="sign" @submit.prevent="sign">
    <label
      >{{ pin ? 'Your PIN' : 'Your password, again' }}
      <AppInput
        v-model="typed"
        type="password"
        :name="pin ? 'sign-pin' : 'password'"
        :inputmode="pin ? 'numeric' : 'text'"
        :autocomplete="pin ? 'off' : 'current-password'"
    /></label>
    <AppButton v-if="session.current!.hasPin" class="quiet" @click="byPassword = !byPassword">
      {{ byPassword ? 'Sign with the PIN' : 'Sign with the password' }}
    </AppButton>
    <p v-if="reach.away && pin" class="attend">
      ▲ The school is not reached: your PIN signs on this device. It is sealed as soon as the school has it,
      from just what you see here.
    </p>
    <p v-else-if="reach.away" class="attend">
      ▲ The school is not reached. A PIN can sign on this device; the password cannot.
    </p>
    <p v-if="empty" class="problem">Signing asks for it again.</p>
    <AppButton class="primary" type="submit" :disabled="props.busy || off" :data-action="action">
      {{ words }}
    </AppButton>
  </form>
</template>

<style scoped>
.sign {
  display: grid;
  gap: 8px;
}

.primary {
  min-height: 72px;
  font-size: 20px;
}
</style>
