<script setup lang="ts">
import { useEventListener } from '@vueuse/core'
import { computed, defineAsyncComponent, onErrorCaptured, ref } from 'vue'
import { useRoute } from 'vue-router'

import AppButton from '@/base/AppButton.vue'
import { cleared, readLoss } from '@/device/cleared'
import { newer, takeNewer } from '@/device/update'
import { help } from '@/shared/help'
import { useSession } from '@/shared/session'
import { agoWords, count } from '@/shared/words'
import { inWords } from '@/shared/errors'

const UnitsDialog = defineAsyncComponent(() => import('@/shared/UnitsDialog.vue'))
const PinDialog = defineAsyncComponent(() => import('@/sign-in/PinDialog.vue'))
const AccountNotices = defineAsyncComponent(() => import('@/account/AccountNotices.vue'))
const HelpDrawer = defineAsyncComponent(() => import('@/guide/HelpDrawer.vue'))
const session = useSession()
const route = useRoute()
/** Where a lesson is worked nothing else comes between. */
const working = computed(() => /^\/lessons\/[^/]+$/.test(route.path))
const offered = computed(() => newer.value && !working.value)
const said = ref('')
/** Before a sign-in the school's zone is not known here. */
const hereZone = Intl.DateTimeFormat().resolvedOptions().timeZone
const takeIt = async () => (said.value = await takeNewer())
const again = () => location.assign('/')
const failure = ref('')
onErrorCaptured((e) => {
  failure.value = inWords(e)
  return true
})
/** F1 opens the page of the guide about the place. */
useEventListener('keydown', (e: KeyboardEvent) => {
  if (e.key !== 'F1') return
  e.preventDefault()
  help.open = !help.open
})
</script>

<template>
  <p v-if="failure" class="failure problem" role="alert">
    {{ failure }} <AppButton class="quiet" @click="failure = ''">Close</AppButton>
  </p>
  <p v-else-if="cleared" class="failure out" role="alert" data-part="cleared">
    ■ This browser was short of space and cleared what was kept here:
    {{ count(cleared.marks, 'mark')
    }}{{ cleared.since ? ` of ${agoWords(cleared.since, session.current?.zone ?? hereZone)}` : '' }} that the
    school did not have {{ cleared.marks === 1 ? 'is' : 'are' }} lost. What is remembered of them can be added
    to their lesson.
    <AppButton class="quiet" data-action="read-loss" @click="readLoss">I have read it</AppButton>
  </p>
  <p v-else-if="session.replaced" class="failure attend" role="alert">
    ▲ Somebody else has signed in, or out, in another tab. What was marked here is kept.
    <AppButton class="quiet" @click="again">Go on</AppButton>
  </p>
  <p v-else-if="offered" class="failure" data-part="newer">
    A newer version of this application is ready. {{ said }}
    <AppButton class="quiet" data-action="take-newer" @click="takeIt">Take it now</AppButton>
  </p>
  <AccountNotices v-if="session.current && !working" />
  <router-view :key="$route.path + session.reading" />
  <PinDialog v-if="session.pinning && session.current" v-model="session.pinning" />
  <HelpDrawer v-if="help.open" />
  <UnitsDialog v-if="session.choosing && session.current" v-model="session.choosing" />
</template>

<style scoped>
.failure {
  position: fixed;
  inset: auto 0 0;
  z-index: 20;
  margin: 0;
  padding: 8px 16px;
  background: var(--sheet);
  border-top: 1px solid var(--out);
}
</style>
