<script setup lang="ts">
/** A link and its one-time code, to be given by different ways; the code is shown this once. */
defineProps<{ path: string; code: string; words: string; sent?: boolean; unsent?: string }>()
const origin = location.origin
</script>

<template>
  <div class="made" data-part="link-and-code">
    <p v-if="sent" class="within">● {{ words }} Link and code have gone out by letter.</p>
    <p v-else class="within">
      ● {{ words }} Give the link and the code by different ways; the code is shown this once.
    </p>
    <p v-if="unsent" class="attend" role="alert">▲ The letter could not be sent. {{ unsent }}</p>
    <p class="figure" data-link>{{ origin }}{{ path }}</p>
    <p class="code figure" data-code>{{ code }}</p>
  </div>
</template>

<style scoped>
.made {
  background: var(--live);
  padding: 12px;
  overflow-wrap: anywhere;
}

.code {
  font-size: 30px;
  letter-spacing: 2px;
}
</style>
