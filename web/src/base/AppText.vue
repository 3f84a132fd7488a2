<script setup lang="ts">
/** A box for several lines. */
defineProps<{ modelValue?: string }>()
const emit = defineEmits<{ 'update:modelValue': [value: string] }>()
const typed = (e: Event) => emit('update:modelValue', (e.target as HTMLTextAreaElement).value)
</script>

<template>
  <textarea :value="modelValue" @input="typed" />
</template>
