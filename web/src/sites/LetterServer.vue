<script setup lang="ts">
import { reactive, ref } from 'vue'

import { api, take } from '@/api/client'
import AppButton from '@/base/AppButton.vue'
import AppCheck from '@/base/AppCheck.vue'
import AppInput from '@/base/AppInput.vue'
import type { Schemas } from '@/schema/schemas'
import ProblemNotice from '@/shared/ProblemNotice.vue'
import { useSession } from '@/shared/session'
import { useTrying } from '@/shared/trying'

/** Through which server the school's letters go. */
const props = defineProps<{ kept?: Schemas['MailServer']; post: boolean }>()
const emit = defineEmits<{ changed: [] }>()
const session = useSession()
const { problem, busy, tried } = useTrying()
const open = ref(!!props.kept)
const said = ref('')
const typed = reactive({
  host: props.kept?.host ?? '',
  port: String(props.kept?.port ?? 465),
  secured: props.kept?.secured ?? true,
  user: props.kept?.user ?? '',
  password: '',
  from: props.kept?.from ?? '',
})
async function changed(words: string) {
  said.value = words
  await session.again()
  emit('changed')
}
const keep = () =>
  tried(async () => {
    said.value = ''
    const body = { ...typed, port: Math.round(Number(typed.port)) || 0 }
    await take(api.PUT('/api/v1/place/letters', { body }))
    await changed(`Letters go through ${typed.host}.`)
  })
const drop = () =>
  tried(async () => {
    said.value = ''
    await take(api.DELETE('/api/v1/place/letters'))
    open.value = false
    await changed(props.post ? 'Letters go through the program’s server.' : 'No letters go out.')
  })
const attempt = () =>
  tried(async () => {
    said.value = ''
    const went = await take(api.POST('/api/v1/place/letters/try'))
    if (went.unsent) problem.value = went.unsent
    else said.value = `A letter has gone to ${went.to}.`
  })
</script>

<template>
  <form class="part letters" data-part="letters" @submit.prevent="keep">
    <h2>Letters</h2>
    <ProblemNotice v-model="problem" />
    <p v-if="said" class="within" role="status">● {{ said }}</p>
    <p class="soft">
      {{
        kept
          ? `Links and codes go out through ${kept.host}, from ${kept.from}.`
          : post
            ? 'Links and codes go out through the server of whoever runs this program.'
            : 'There is no server for letters: links and codes are printed, or given by hand.'
      }}
    </p>
    <div v-if="open" class="row">
      <label class="grow"
        >Server
        <AppInput
          v-model="typed.host"
          type="text"
          name="letters-host"
          maxlength="253"
          placeholder="smtp.school.example"
      /></label>
      <label
        >Port
        <AppInput v-model="typed.port" type="text" inputmode="numeric" name="letters-port" maxlength="5"
      /></label>
      <label class="tick"
        ><AppCheck v-model="typed.secured" name="letters-secured" /> TLS from the beginning</label
      >
      <label class="grow"
        >User
        <AppInput
          v-model="typed.user"
          type="text"
          name="letters-user"
          maxlength="200"
          autocomplete="off"
          placeholder="empty where nobody signs in"
      /></label>
      <label class="grow"
        >Password
        <AppInput
          v-model="typed.password"
          type="password"
          name="letters-password"
          maxlength="200"
          autocomplete="new-password"
          :placeholder="kept?.user ? 'as it is kept' : ''"
      /></label>
      <label class="grow"
        >Letters come from
        <AppInput
          v-model="typed.from"
          type="text"
          name="letters-from"
          maxlength="200"
          placeholder="Tarn Hollow &lt;office@school.example&gt;"
      /></label>
    </div>
    <p class="row">
      <AppButton v-if="!open" data-action="own-letters" @click="open = true"> A server of our own </AppButton>
      <AppButton v-else type="submit" data-action="keep-letters" :disabled="busy">Keep this server</AppButton>
      <AppButton v-if="kept" class="quiet" data-action="drop-letters" :disabled="busy" @click="drop">
        Take it away
      </AppButton>
      <AppButton
        v-if="kept || post"
        class="quiet"
        data-action="try-letters"
        :disabled="busy"
        @click="attempt"
      >
        Send a letter to myself
      </AppButton>
    </p>
  </form>
</template>

<style scoped>
.letters {
  margin-top: 20px;
}

.row {
  display: flex;
  flex-wrap: wrap;
  gap: 10px 14px;
  align-items: end;
}

.grow {
  flex: 1 1 220px;
}

.row [name='letters-port'] {
  width: 90px;
}

.tick {
  display: flex;
  gap: 8px;
  align-items: center;
  min-height: 44px;
}
</style>
