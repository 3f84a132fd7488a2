<script setup lang="ts">
import { computed, defineAsyncComponent, onErrorCaptured, ref } from 'vue'
import { useRoute } from 'vue-router'

import { newer, takeNewer } from '@/device/update'
import { useSession } from '@/shared/session'

const UnitsDialog = defineAsyncComponent(() => import('@/shared/UnitsDialog.vue'))
const PinDialog = defineAsyncComponent(() => import('@/sign-in/PinDialog.vue'))
const session = useSession()
const route = useRoute()
/** A newer application is offered where no lesson is worked. */
const offered = computed(() => newer.value && !/^\/lessons\/[^/]+$/.test(route.path))
const said = ref('')
const takeIt = async () => (said.value = await takeNewer())
const again = () => location.assign('/')
const failure = ref('')
onErrorCaptured((e) => {
  failure.value = e instanceof Error ? e.message : String(e)
  return true
})
</script>

<template>
  <p v-if="failure" class="failure problem" role="alert">
    {{ failure }} <button class="quiet" @click="failure = ''">Close</button>
  </p>
  <p v-else-if="session.replaced" class="failure attend" role="alert">
    ▲ Somebody else has signed in, or out, in another tab. What was marked here is kept.
    <button class="quiet" @click="again">Go on</button>
  </p>
  <p v-else-if="offered" class="failure" data-part="newer">
    A newer version of this application is ready. {{ said }}
    <button class="quiet" data-action="take-newer" @click="takeIt">Take it now</button>
  </p>
  <router-view :key="$route.path + session.reading" />
  <PinDialog v-if="session.pinning && session.current" v-model="session.pinning" />
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
