<script setup lang="ts">
import 'element-plus/es/components/switch/style/css'

import { ElSwitch } from 'element-plus'

/** A thing that is so or not so, and its words beside it. */
defineProps<{ words: string; name?: string; disabled?: boolean }>()
const on = defineModel<boolean>({ required: true })
</script>

<template>
  <span class="onoff">
    <ElSwitch v-model="on" :name="name" :disabled="disabled" :aria-label="words" :data-switch="name" />
    <span @click="disabled || (on = !on)">{{ words }}</span>
  </span>
</template>

<style scoped>
.onoff {
  display: inline-flex;
  gap: 8px;
  align-items: center;
  min-height: 40px;
  line-height: 1.2;
  cursor: pointer;
}
</style>
