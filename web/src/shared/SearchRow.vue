<script setup lang="ts">
import SearchSelect from '@/shared/SearchSelect.vue'

/** A row of a form whose choices are too many to stand in sight. */
defineProps<{ name: string; choices: string[][] }>()
const chosen = defineModel<string>({ required: true })
</script>

<template>
  <label class="row">
    <span class="soft">{{ name }}</span>
    <SearchSelect
      :model-value="chosen"
      :name="name"
      :options="choices.map(([value, words]) => [value!, words!] as const)"
      none="type a part of the name"
      @update:model-value="chosen = String($event)"
    />
  </label>
</template>

<style scoped>
.row {
  display: grid;
  grid-template-columns: 120px minmax(0, 1fr);
  align-items: center;
  padding: 6px 0;
  border-bottom: 1px solid var(--fine);
}
</style>
