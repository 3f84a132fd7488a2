<script setup lang="ts">
import { v7 as uuid } from 'uuid'
import { ref } from 'vue'
import { useRouter } from 'vue-router'

import { api, take } from '@/api/client'
import AppButton from '@/base/AppButton.vue'
import AppInput from '@/base/AppInput.vue'
import type { Schemas } from '@/schema/schemas'
import { useOutbox } from '@/outbox/outbox'
import AppDialog from '@/shared/AppDialog.vue'
import ProblemNotice from '@/shared/ProblemNotice.vue'
import { useSession } from '@/shared/session'
import { useTrying } from '@/shared/trying'

/** Opens a maintenance run on an aircraft, with the checks of a finding first. */
const props = defineProps<{ registration: string; finding?: Schemas['StoreFinding'] }>()
const open = defineModel<boolean>({ required: true })
const { units } = useSession().current!
const outbox = useOutbox()
const router = useRouter()
const { problem, busy, tried } = useTrying()
const oat = ref('')
const qnh = ref('')
const begin = () =>
  tried(async () => {
    const id = uuid()
    await take(
      api.POST('/api/v1/aircraft/{registration}/runs', {
        params: { path: { registration: props.registration } },
        body: {
          id,
          event: uuid(),
          device: outbox.device,
          item: props.finding?.item ?? '',
          oat: oat.value.trim(),
          qnh: qnh.value.trim(),
        },
      }),
    )
    await router.push(`/lessons/${id}`)
  })
</script>

<template>
  <AppDialog v-model="open" :title="`A maintenance run on ${registration}`">
    <p v-if="finding">{{ finding.words }}</p>
    <form @submit.prevent="begin">
      <p class="soft">
        The measured checks of this aircraft, those of the finding first: nobody is graded, and you sign it.
        Limits of the day need the air; it can be told later too.
      </p>
      <div class="air">
        <label
          >Air now, {{ units.temperature }}
          <AppInput v-model="oat" type="text" inputmode="decimal" name="run-oat" maxlength="16"
        /></label>
        <label
          >Pressure setting, hPa or inHg
          <AppInput v-model="qnh" type="text" inputmode="decimal" name="run-qnh" maxlength="16"
        /></label>
      </div>
      <ProblemNotice v-model="problem" />
      <AppButton class="primary" type="submit" :disabled="busy" data-action="open-run"
        >Begin the run</AppButton
      >
    </form>
  </AppDialog>
</template>

<style scoped>
form {
  display: grid;
  gap: 12px;
  margin-top: 10px;
}

.air {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 12px;
}
</style>
