<script setup lang="ts">
import { computed, ref, watch } from 'vue'

import AppButton from '@/base/AppButton.vue'
import AppInput from '@/base/AppInput.vue'
import { RuleError, rules } from '@/rules/rules'
import type { Briefing, Schemas } from '@/schema/schemas'

/** A weather report, pasted, typed or taken from the practice station: it fills the boxes below it. */
const props = defineProps<{ briefing: Briefing; base?: string }>()
const emit = defineEmits<{ read: [report: Schemas['ChecklistReported']] }>()
const report = ref('')
const unread = ref('')
const field = computed(() => props.briefing.aerodromes.find((a) => a.id === props.base))
const station = computed(() => (field.value ? props.briefing.reports[field.value.id] : undefined))
watch(report, (text) => {
  unread.value = ''
  if (text.trim().length <= 8) return
  try {
    emit('read', rules.report(text, field.value))
  } catch (e) {
    if (!(e instanceof RuleError)) throw e
    unread.value = e.said({ report: 'The report' })
  }
})
</script>

<template>
  <div class="report">
    <label
      >Weather report, pasted or typed: it fills the boxes below
      <AppInput v-model="report" type="text" name="report" placeholder="METAR XTHW …" maxlength="1000" />
    </label>
    <AppButton :disabled="!station" data-action="station" @click="report = station!">
      Take the practice station
    </AppButton>
    <small v-if="unread" class="problem">{{ unread }}</small>
    <small v-else-if="station && report === station" class="attend">▲ {{ briefing.note }}</small>
  </div>
</template>

<style scoped>
.report {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  gap: 4px 12px;
  align-items: end;
  margin: 8px 0;
}

.report small {
  grid-column: 1 / 3;
}
</style>
