<script setup lang="ts">
import 'element-plus/es/components/checkbox/style/css'

import { ElCheckbox, ElCheckboxGroup } from 'element-plus'

/** Any of a few, all of them in sight. */
defineProps<{ options: readonly (readonly [value: string, label: string])[]; label: string }>()
const chosen = defineModel<string[]>({ required: true })
</script>

<template>
  <ElCheckboxGroup v-model="chosen" :aria-label="label" class="ticks">
    <ElCheckbox v-for="[v, words] in options" :key="v" :value="v" :label="words" :data-tick="v" />
  </ElCheckboxGroup>
</template>

<style scoped>
.ticks {
  display: flex;
  flex-wrap: wrap;
  gap: 0 16px;
}
</style>
