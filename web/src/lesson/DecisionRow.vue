<script setup lang="ts">
import AppButton from '@/base/AppButton.vue'
import { decisionWords } from '@/shared/words'

/** What a person decides on a finding: one of the decisions. */
const decision = defineModel<string>({ required: true })
</script>

<template>
  <div class="decisions">
    <AppButton
      v-for="(label, d) in decisionWords"
      :key="d"
      :class="{ chosen: decision === d }"
      :aria-pressed="decision === d"
      :data-decision="d"
      @click="decision = d"
    >
      {{ label }}
    </AppButton>
  </div>
</template>

<style scoped>
.decisions {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}

.decisions button {
  min-height: 48px;
  flex: 1 1 auto;
}
</style>
