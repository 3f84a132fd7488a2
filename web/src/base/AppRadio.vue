<script setup lang="ts">
/** One of several choices that stand beside one another; its label is around it. */
defineProps<{ value: string }>()
const chosen = defineModel<string>()
</script>

<template>
  <input v-model="chosen" type="radio" :value="value" />
</template>
