<script setup lang="ts">
import type { Version } from '@/schema/schemas'
import { dayWords, statusWords } from '@/shared/words'

/** Where a version stands on its way into force, and by whom. */
defineProps<{ meta: Version }>()
const steps = Object.keys(statusWords)
</script>

<template>
  <ol class="steps" aria-label="State of this version">
    <li v-for="s in steps" :key="s" :class="{ here: meta.status === s }" :aria-current="meta.status === s">
      {{ statusWords[s] }}
      <small v-if="s === 'draft' && meta.writtenBy">{{ meta.writtenBy }}</small>
      <small v-if="s === 'reviewed' && meta.reviewedBy"
        >{{ `${dayWords(meta.reviewedOn)}, ` }}{{ meta.reviewedBy }}</small
      >
      <small v-if="s === 'in-force' && meta.inForceFrom"
        >from {{ dayWords(meta.inForceFrom) }}, {{ meta.approvedBy }}</small
      >
      <small v-if="s === 'in-force' && meta.shipped">ships with the program</small>
      <small v-if="s === 'withdrawn' && meta.withdrawnFrom">from {{ dayWords(meta.withdrawnFrom) }}</small>
    </li>
  </ol>
</template>

<style scoped>
.steps {
  display: flex;
  list-style: none;
  margin: 0;
  padding: 0;
  flex: 1 1 480px;
}

.steps li {
  flex: 1;
  border-bottom: 3px solid var(--fine);
  color: var(--soft);
  line-height: 1.2;
  min-height: 40px;
}

.steps .here {
  border-color: var(--ink);
  color: var(--ink);
  font-weight: 700;
}

small {
  display: block;
  font-weight: 400;
  font-size: 12px;
}
</style>
