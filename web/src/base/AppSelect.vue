<script setup lang="ts" generic="T extends string | number | null | undefined">
/** One of a few, chosen from a list that opens; its options stand in the slot. */
const chosen = defineModel<T>()
</script>

<template>
  <select v-model="chosen">
    <slot />
  </select>
</template>
