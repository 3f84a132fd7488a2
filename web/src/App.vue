<script setup lang="ts">
import { defineAsyncComponent, onErrorCaptured, ref } from 'vue'

import { useSession } from '@/shared/session'

const UnitsDialog = defineAsyncComponent(() => import('@/shared/UnitsDialog.vue'))
const session = useSession()
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
  <router-view :key="$route.path + session.reading" />
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
