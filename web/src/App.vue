<script setup lang="ts">
import { onErrorCaptured, ref } from 'vue'

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
  <router-view :key="$route.path" />
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
