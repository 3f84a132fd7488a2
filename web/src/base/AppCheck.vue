<script setup lang="ts">
/** A box to tick. */
const ticked = defineModel<boolean>()
</script>

<template>
  <input v-model="ticked" type="checkbox" />
</template>
