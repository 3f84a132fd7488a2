<script setup lang="ts">
import { onMounted, reactive, ref, shallowRef } from 'vue'

import { api, take } from '@/api/client'
import AppButton from '@/base/AppButton.vue'
import AppInput from '@/base/AppInput.vue'
import type { Schemas } from '@/schema/schemas'
import { pinsWork } from '@/device/pin'
import ProblemNotice from '@/shared/ProblemNotice.vue'
import TopBar from '@/shared/TopBar.vue'
import { useSession } from '@/shared/session'
import { agoWords, dayIn, dayWords, timeWords } from '@/shared/words'
import { useTrying } from '@/shared/trying'

/** One's own account: how one signs in, where one is signed in, what one signed. */
const session = useSession()
const account = shallowRef<Schemas['AccountView'] | null>(null)
const { problem, busy, tried } = useTrying()
const said = ref('')
const typed = reactive({ password: '', next: '', again: '', proof: '', code: '' })
const second = shallowRef<Schemas['SecondBegun'] | null>(null)

const zone = () => session.current!.zone
const load = async () => {
  account.value = await take(api.GET('/api/v1/account'))
}
onMounted(() => tried(load))

/** Does something, then shows the account as it is after it. */
const doing = (run: () => Promise<unknown>, words = '') =>
  tried(async () => {
    said.value = ''
    await run()
    said.value = words
    await load()
  })

const setPassword = () =>
  doing(async () => {
    if (typed.next !== typed.again) throw new Error('The two new passwords are not the same.')
    const { password, next } = typed
    await take(api.PUT('/api/v1/account/password', { body: { password, next } }))
    typed.password = typed.next = typed.again = ''
  }, 'The new password serves. Every other session has ended.')
const end = (id?: string) => doing(() => take(api.POST('/api/v1/account/sessions/end', { body: { id } })))
const beginSecond = () =>
  tried(async () => {
    second.value = await take(api.POST('/api/v1/account/second', { body: { password: typed.proof } }))
    typed.proof = ''
  })
const keepSecond = () =>
  doing(async () => {
    session.current = await take(api.PUT('/api/v1/account/second', { body: { code: typed.code } }))
    second.value = null
    typed.code = ''
  }, 'From now on a code is asked for at each sign-in.')
const endSecond = () =>
  doing(async () => {
    session.current = await take(api.POST('/api/v1/account/second/end', { body: { password: typed.proof } }))
    typed.proof = ''
  }, 'Codes are asked for no more.')
const subjects: Record<string, string> = {
  lesson: 'a lesson',
  acknowledgement: 'an answer to a lesson',
  version: 'a version into force',
}
</script>

<template>
  <div class="place">
    <TopBar
      ><b>{{ session.current?.name }}</b></TopBar
    >
    <main v-if="account" class="lines">
      <p v-if="session.current?.mustSecond" class="attend" role="status" data-part="must-second">
        ▲ Your school asks your roles for one-time codes at the sign-in. Set them up here first; everything
        else waits.
      </p>
      <ProblemNotice v-model="problem" />
      <p v-if="said" class="within" role="status">● {{ said }}</p>
      <p class="soft">
        You sign in by {{ account.email }}.
        <a href="/api/v1/account/personal-data.zip" download data-action="export-own"
          >What the school holds on you, as files</a
        >
      </p>
      <div class="columns">
        <div>
          <section class="part" data-part="second">
            <h2>One-time codes</h2>
            <template v-if="second">
              <p>
                Scan this with an authenticator on another device, or type the secret; then write the six
                digits that it shows.
              </p>
              <img :src="`data:image/png;base64,${second.picture}`" alt="The secret as a picture" />
              <p class="figure secret" data-secret>{{ second.words }}</p>
              <form class="pair" @submit.prevent="keepSecond">
                <label
                  >Code
                  <AppInput
                    v-model="typed.code"
                    type="text"
                    name="second-code"
                    inputmode="numeric"
                    autocomplete="one-time-code"
                    maxlength="12"
                /></label>
                <AppButton
                  class="primary"
                  type="submit"
                  data-action="keep-second"
                  :disabled="busy || !typed.code"
                >
                  Ask for them from now on
                </AppButton>
              </form>
            </template>
            <form v-else class="pair" @submit.prevent="beginSecond">
              <p class="soft whole">
                {{
                  account.second
                    ? 'A code of your authenticator is asked for at each sign-in.'
                    : 'With them a password alone opens nothing: a code of an authenticator is asked for as well.'
                }}
              </p>
              <label
                >Your password
                <AppInput
                  v-model="typed.proof"
                  type="password"
                  name="second-password"
                  autocomplete="current-password"
              /></label>
              <AppButton type="submit" data-action="begin-second" :disabled="busy || !typed.proof">
                {{ account.second ? 'Another device' : 'Set them up' }}
              </AppButton>
              <AppButton
                v-if="account.second && !account.required"
                data-action="end-second"
                :disabled="busy || !typed.proof"
                @click="endSecond"
              >
                Ask no more
              </AppButton>
            </form>
          </section>
          <section class="part">
            <h2>PIN, passkeys, units</h2>
            <p class="acts">
              <AppButton v-if="pinsWork()" data-action="pin" @click="session.pinning = true">
                {{ account.hasPin ? 'Another PIN, passkeys' : 'Set a PIN, passkeys' }}
              </AppButton>
              <AppButton data-action="units" @click="session.choosing = true">Units</AppButton>
            </p>
          </section>
          <section class="part">
            <h2>Password</h2>
            <form class="stack" data-part="password" @submit.prevent="setPassword">
              <label
                >The one that serves now
                <AppInput
                  v-model="typed.password"
                  type="password"
                  name="password-now"
                  autocomplete="current-password"
              /></label>
              <label
                >The new one, ten letters or more
                <AppInput
                  v-model="typed.next"
                  type="password"
                  name="password-next"
                  autocomplete="new-password"
              /></label>
              <label
                >The same again
                <AppInput
                  v-model="typed.again"
                  type="password"
                  name="password-again"
                  autocomplete="new-password"
              /></label>
              <AppButton
                type="submit"
                data-action="set-password"
                :disabled="busy || !typed.password || !typed.next"
              >
                Change it, and end every other session
              </AppButton>
            </form>
          </section>
        </div>
        <div>
          <section class="part" data-part="sessions">
            <h2>Where you are signed in</h2>
            <div v-for="s in account.sessions" :key="s.id" class="line session" :data-session="s.id">
              <span
                ><b>{{ s.device }}</b> <span class="soft small">{{ s.address }}</span></span
              >
              <span class="soft small"
                >since {{ dayWords(dayIn(s.beganAt, zone())) }},
                {{ timeWords(Date.parse(s.beganAt), zone()) }}</span
              >
              <b v-if="s.this" class="within">here</b>
              <AppButton v-else class="quiet" data-action="end-session" @click="end(s.id)">end it</AppButton>
            </div>
            <AppButton v-if="account.sessions.length > 1" data-action="end-others" @click="end()">
              End all but this one
            </AppButton>
          </section>
          <section class="part" data-part="signed">
            <h2>What you signed</h2>
            <p v-if="!account.signed.length" class="soft">Nothing yet.</p>
            <component
              :is="k.lessonId ? 'router-link' : 'div'"
              v-for="k in account.signed"
              :key="k.number"
              :to="k.lessonId ? `/lessons/${k.lessonId}/debrief` : undefined"
              class="line seal"
            >
              <span class="figure soft">{{ k.number }}</span>
              <span>{{ subjects[k.subject] ?? k.subject }}</span>
              <span>{{ k.student }} {{ k.registration }}</span>
              <span class="soft small">{{ agoWords(Date.parse(k.at), zone()) }}</span>
            </component>
          </section>
        </div>
      </div>
    </main>
    <p v-else-if="problem" class="problem" role="alert">{{ problem }}</p>
  </div>
</template>

<style scoped>
.columns {
  display: grid;
  grid-template-columns: minmax(0, 5fr) minmax(0, 6fr);
  gap: 0 40px;
}

img {
  width: 210px;
  image-rendering: pixelated;
}

.secret {
  overflow-wrap: anywhere;
}

.pair {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto auto;
  gap: 10px;
  align-items: end;
}

.whole {
  grid-column: 1 / -1;
}

.stack {
  display: grid;
  gap: 10px;
}

.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
}

.session {
  grid-template-columns: minmax(0, 1.4fr) minmax(0, 1fr) auto;
}

.seal {
  grid-template-columns: 48px minmax(0, 1fr) minmax(0, 1.2fr) auto;
  text-decoration: none;
  color: inherit;
}

@media (max-width: 800px) {
  .columns {
    grid-template-columns: minmax(0, 1fr);
  }

  .seal {
    grid-template-columns: 40px minmax(0, 1fr) auto;
  }

  .seal > :nth-child(2) {
    display: none;
  }
}
</style>
