<script setup lang="ts">
/** A box that is typed into or dragged: text, a number, a date, a time, a range, a file. */
const props = defineProps<{
  modelValue?: string | number | null
  modelModifiers?: { number?: boolean }
}>()
const emit = defineEmits<{ 'update:modelValue': [value: string | number] }>()

/** A number where a number is asked for, and what was typed where it is none yet. */
function typed(e: Event) {
  const { value, type } = e.target as HTMLInputElement
  const n = type === 'number' || props.modelModifiers?.number ? parseFloat(value) : NaN
  emit('update:modelValue', Number.isNaN(n) ? value : n)
}
</script>

<template>
  <input :value="modelValue" @input="typed" />
</template>
