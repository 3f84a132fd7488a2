<script setup lang="ts">
import type { Schemas } from '@/schema/schemas'
import { dayWords } from '@/shared/words'

/** Until when a finding is deferred, how long that is yet, and what allows it. */
defineProps<{ finding: Schemas['StoreFinding'] }>()
const left = (n: number) => (n === 0 ? 'today is the last day' : n === 1 ? 'one day left' : `${n} days left`)
</script>

<template>
  <span v-if="finding.condition === 'overdue'" class="out small line"
    >■ deferred until {{ dayWords(finding.until!) }}: its limit is over, the aircraft stays on the
    ground</span
  >
  <span
    v-else-if="finding.daysLeft !== undefined"
    :class="['small line', finding.daysLeft < 4 ? 'attend' : 'soft']"
    >{{ finding.daysLeft < 4 ? '▲ ' : '' }}deferred until {{ dayWords(finding.until!) }},
    {{ left(finding.daysLeft) }}: {{ finding.rule }}</span
  >
</template>

<style scoped>
.line {
  display: block;
}
</style>
