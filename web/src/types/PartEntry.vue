<script setup lang="ts">
import AppButton from '@/base/AppButton.vue'
import type { Schemas } from '@/schema/schemas'

/** One part of a description in the list of parts: a tick for each number, and how many lack. */
defineProps<{ part: Schemas['HandbookPart']; here: boolean }>()
defineEmits<{ open: [] }>()
</script>

<template>
  <AppButton :class="['quiet', 'entry', { on: here }]" :data-at="part.id" @click="$emit('open')">
    <span>{{ part.title }}</span>
    <span class="ticks" aria-hidden="true"
      ><i v-for="r in part.rows.slice(0, 12)" :key="r.path" :class="{ done: r.lacks !== 'number' }"
    /></span>
    <b v-if="part.lacks" class="attend"
      >{{ part.lacks
      }}<span class="hidden">{{ part.lacks === 1 ? ' number is missing' : ' numbers are missing' }}</span></b
    >
  </AppButton>
</template>

<style scoped>
.ticks {
  display: flex;
  gap: 3px;
  align-items: end;
  height: 14px;
}

.ticks i {
  width: 3px;
  height: 6px;
  background: var(--hair);
}

.ticks .done {
  height: 13px;
  background: var(--within);
}

.entry b {
  text-align: right;
}

.hidden {
  position: absolute;
  clip-path: inset(50%);
  width: 1px;
  height: 1px;
  overflow: hidden;
}
</style>
