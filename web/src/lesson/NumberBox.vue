<script setup lang="ts">
import AppButton from '@/base/AppButton.vue'
import AppInput from '@/base/AppInput.vue'
import type { Schemas } from '@/schema/schemas'

/** One number that is read off: its box, its unit, its timer, and that it did not come. */
defineProps<{
  box: Schemas['FormBox']
  value: unknown
  running: boolean
  tone: string
  wrong: boolean
  missing: boolean
  none: boolean
  pad: boolean
}>()
const emit = defineEmits<{ write: [text: string]; time: []; none: [] }>()
</script>

<template>
  <span class="entry">
    <AppInput
      :id="box.path"
      type="text"
      :inputmode="pad ? 'none' : 'decimal'"
      autocomplete="off"
      :name="box.path"
      :value="value"
      :readonly="running"
      :disabled="box.closed"
      :placeholder="box.drops ? 'drop' : ''"
      :aria-invalid="wrong"
      :data-missing="missing || undefined"
      @focus="($event.target as HTMLInputElement).select()"
      @click="($event.target as HTMLInputElement).select()"
      @input="emit('write', ($event.target as HTMLInputElement).value)"
    /><span class="unit soft">{{ box.unit }}</span>
  </span>
  <span v-if="box.taken === 'timed' || box.nullable" class="side">
    <AppButton
      v-if="box.taken === 'timed'"
      :class="['timer', tone]"
      :data-timer="box.path"
      @click="emit('time')"
    >
      {{ running ? '■ stop' : '▶ time' }}
    </AppButton>
    <AppButton v-if="box.nullable" :class="['timer', { chosen: none }]" @click="emit('none')">
      none
    </AppButton>
  </span>
</template>

<style scoped>
.entry {
  display: flex;
  align-items: baseline;
  gap: 2px;
}

input {
  border: 0;
  padding: 0;
  font: 700 20px var(--figures);
  background: transparent;
  min-height: 34px;
  min-width: 0;
}

.unit {
  font-size: 12px;
}

.side {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
}

.timer {
  flex: 1;
  min-width: 66px;
  min-height: 36px;
  padding: 2px;
  font-size: 13px;
  border-color: var(--hair);
}

@media (pointer: coarse) {
  .timer {
    min-height: 56px;
  }
}
</style>
