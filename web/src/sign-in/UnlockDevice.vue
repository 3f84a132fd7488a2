<script setup lang="ts">
import { computed, onMounted, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import AppButton from '@/base/AppButton.vue'
import AppInput from '@/base/AppInput.vue'
import { kept } from '@/device/kept'
import { closedTo, tryPin } from '@/device/pin'
import { home, useSession } from '@/shared/session'
import { count } from '@/shared/words'

/** Without the school: the PIN of who was signed in on this device. */
const session = useSession()
const router = useRouter()
const route = useRoute()
const pin = ref('')
const problem = ref('')
const busy = ref(false)
const waiting = ref(0)
const person = computed(() => session.locked)
const shut = computed(() => (person.value ? closedTo(person.value) : ''))

onMounted(async () => {
  if (!person.value) return router.replace('/sign-in')
  waiting.value = await kept.marks.where('[owner+state]').equals([person.value.owner, 'waiting']).count()
})

async function unlock() {
  busy.value = true
  problem.value = await tryPin(person.value!.owner, pin.value)
  pin.value = ''
  busy.value = false
  if (problem.value) return
  session.open(person.value!)
  const to = route.query.to
  await router.push(typeof to === 'string' && to.startsWith('/') ? to : home(session.current!))
}
</script>

<template>
  <main v-if="person" class="door">
    <h1>{{ person.session.name }}</h1>
    <p class="lead">
      The school is not reached. Your PIN opens what this device keeps of {{ person.session.school }}.
    </p>
    <p v-if="waiting" class="attend" data-part="waiting">
      ▲ {{ count(waiting, 'mark') }} of yours wait on this device.
    </p>
    <p v-if="shut" class="problem" role="alert">{{ shut }}</p>
    <form v-else @submit.prevent="unlock">
      <label
        >PIN
        <AppInput
          v-model="pin"
          type="password"
          name="pin"
          inputmode="numeric"
          autocomplete="off"
          maxlength="12"
          autofocus
      /></label>
      <p v-if="problem" class="problem" role="alert">{{ problem }}</p>
      <AppButton class="primary" type="submit" :disabled="busy || !pin">Open</AppButton>
    </form>
    <router-link to="/sign-in">Sign in with the password, or as somebody else</router-link>
  </main>
</template>

<style scoped>
.lead {
  font-size: 18px;
  color: var(--soft);
}

form {
  display: grid;
  gap: 10px;
}

input {
  font-size: 22px !important;
  min-height: 56px;
}

.primary {
  min-height: 72px;
  font-size: 22px;
}
</style>
