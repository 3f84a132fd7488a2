<script setup lang="ts">
import type { Schemas } from '@/api/client'

/** Links with their one-time codes, a line a person, to be printed or written off. */
defineProps<{ invited: Schemas['Welcome'][] }>()
const origin = location.origin
const print = () => window.print()
</script>

<template>
  <div>
    <p class="within">
      ● Give each person the link and the code by different ways; the codes are shown this once.
    </p>
    <div v-for="w in invited" :key="w.path" class="welcome" data-part="welcome">
      <b>{{ w.name }}</b>
      <span class="figure">{{ origin }}{{ w.path }}</span>
      <b class="figure code">{{ w.code }}</b>
    </div>
    <p class="act">
      <button type="button" @click="print">Print them</button>
      <slot />
    </p>
  </div>
</template>

<style scoped>
.welcome {
  display: grid;
  grid-template-columns: minmax(120px, 1fr) minmax(0, 3fr) auto;
  gap: 4px 16px;
  align-items: center;
  padding: 8px 0;
  border-bottom: 1px solid var(--fine);
  overflow-wrap: anywhere;
  break-inside: avoid;
}

.code {
  font-size: 22px;
  letter-spacing: 2px;
}

.act {
  display: flex;
  gap: 12px;
  margin-top: 16px;
}

@media (max-width: 800px) {
  .welcome {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
