<script setup lang="ts">
import { ref } from 'vue'

import { api, take } from '@/api/client'
import AppButton from '@/base/AppButton.vue'
import AppDialog from '@/shared/AppDialog.vue'
import ProblemNotice from '@/shared/ProblemNotice.vue'
import { useTrying } from '@/shared/trying'

/** The secret address under which a calendar program reads one's own lessons. */
const open = defineModel<boolean>({ required: true })
const { problem, busy, tried } = useTrying()
const address = ref('')
const renew = () =>
  tried(async () => {
    const { path } = await take(api.POST('/api/v1/calendar'))
    address.value = location.origin + path
  })
</script>

<template>
  <AppDialog v-model="open" title="My lessons in a calendar" :width="640">
    <ProblemNotice v-model="problem" />
    <p>
      A calendar program that is given the address shows your lessons of the last month and the next half
      year, and asks for them again by itself. Who has the address reads them without a password: keep it to
      yourself. A new address ends the one before.
    </p>
    <p v-if="address" class="address figure" data-part="address">{{ address }}</p>
    <p v-if="address" class="attend">▲ It is shown this once.</p>
    <AppButton v-else class="primary" :disabled="busy" data-action="renew-calendar" @click="renew">
      Make a new address
    </AppButton>
  </AppDialog>
</template>

<style scoped>
.address {
  background: var(--live);
  padding: 12px;
  margin: 12px 0;
  overflow-wrap: anywhere;
}

button {
  margin-top: 12px;
}
</style>
