<script setup lang="ts">
import { computed } from 'vue'

import AppButton from '@/base/AppButton.vue'
import AppInput from '@/base/AppInput.vue'
import type { Schemas } from '@/schema/schemas'

/** A control: turned, slid, switched or held; several at once, by touch or by keys. */
const props = defineProps<{ control: Schemas['StandPanelControl']; at: number }>()
const emit = defineEmits<{ move: [value: number] }>()
const where = computed(() => {
  const c = props.control
  if (props.at <= 0.001) return c.low
  if (props.at >= 0.999) return c.high
  return c.kind === 'lever' ? `${Math.round(props.at * 100)} %` : ''
})
const slid = (e: Event) => emit('move', Number((e.target as HTMLInputElement).value))
/** Held as long as the finger is down, wherever it slides to meanwhile. */
function hold(e: PointerEvent) {
  const finger = e.pointerId
  const over = (up: PointerEvent) => {
    if (up.pointerId !== finger) return
    for (const ends of ['pointerup', 'pointercancel'] as const) removeEventListener(ends, over)
    emit('move', 0)
  }
  for (const ends of ['pointerup', 'pointercancel'] as const) addEventListener(ends, over)
  emit('move', 1)
}
const keyed = (e: KeyboardEvent) => {
  if (e.key !== ' ' && e.key !== 'Enter') return
  e.preventDefault()
  if (!e.repeat) emit('move', e.type === 'keydown' ? 1 : 0)
}
</script>

<template>
  <div v-if="control.kind === 'positions'" class="turned" role="group" :aria-label="control.label">
    <span v-if="control.label.toLowerCase() !== control.group" class="soft small">{{ control.label }}</span>
    <span class="row">
      <AppButton
        v-for="p in control.positions"
        :key="p.label"
        :class="{ chosen: p.value === at }"
        :aria-pressed="p.value === at"
        :data-control="`${control.control} ${p.label}`"
        @click="emit('move', p.value)"
      >
        {{ p.label }}
      </AppButton>
    </span>
  </div>
  <label v-else-if="control.kind === 'lever'" class="lever">
    <AppInput
      type="range"
      min="0"
      max="1"
      step="0.005"
      :value="at"
      :data-control="control.control"
      :data-engine="control.engine"
      @input="slid"
    />
    <span
      ><b>{{ control.label }}</b> <span class="soft">{{ where }}</span></span
    >
  </label>
  <AppButton
    v-else-if="control.kind === 'switch'"
    :class="['switch', { chosen: at === 1 }]"
    :aria-pressed="at === 1"
    :data-control="control.control"
    :data-engine="control.engine"
    @click="emit('move', at === 1 ? 0 : 1)"
  >
    <b>{{ control.label }}</b>
    <span>{{ where }}</span>
  </AppButton>
  <AppButton
    v-else
    :class="['switch', { chosen: at === 1 }]"
    :data-control="control.control"
    :data-engine="control.engine"
    @pointerdown="hold"
    @keydown="keyed"
    @keyup="keyed"
    @blur="emit('move', 0)"
  >
    <b>{{ control.label }}</b>
    <span>hold</span>
  </AppButton>
</template>

<style scoped>
.turned {
  display: grid;
}

.row {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
}

.row button {
  min-width: 72px;
  font-size: 14px;
  min-height: 46px;
}

.switch {
  display: grid;
  min-width: 104px;
  min-height: 46px;
  padding-block: 2px;
  text-align: left;
  font-size: 14px;
  line-height: 1.3;
  touch-action: none;
  user-select: none;
}

.lever {
  display: grid;
  flex: 1 1 170px;
  font-size: 14px;
}

.lever input {
  width: 100%;
  height: 38px;
  accent-color: var(--ink);
  touch-action: none;
}
</style>
