<script setup lang="ts">
import { computed } from 'vue'

import SearchSelect from '@/shared/SearchSelect.vue'

/** A row of a form with many choices: the first ones stand in sight, any is found by typing. */
const props = withDefaults(defineProps<{ name: string; choices: string[][]; near?: number }>(), { near: 5 })
const chosen = defineModel<string>({ required: true })

/** Those in sight, the chosen one always among them. */
const inSight = computed(() => {
  const first = props.choices.slice(0, props.near)
  const own = props.choices.find(([value]) => value === chosen.value)
  return own && !first.includes(own) ? [...first.slice(0, -1), own] : first
})
</script>

<template>
  <fieldset>
    <legend>{{ name }}</legend>
    <div class="choices">
      <button
        v-for="[value, label] in inSight"
        :key="value"
        type="button"
        :class="{ chosen: chosen === value }"
        :aria-pressed="chosen === value"
        @click="chosen = value!"
      >
        {{ label }}
      </button>
      <SearchSelect
        v-if="choices.length > inSight.length"
        class="any"
        :model-value="''"
        :name="name"
        :label="`another ${name.toLowerCase()}`"
        :options="choices.map(([value, words]) => [value!, words!] as const)"
        :none="`another: type a part`"
        @update:model-value="chosen = String($event)"
      />
    </div>
  </fieldset>
</template>

<style scoped>
fieldset {
  border: 0;
  margin: 0;
  padding: 6px 0;
  display: grid;
  grid-template-columns: 120px minmax(0, 1fr);
  align-items: center;
  border-bottom: 1px solid var(--fine);
}

legend {
  float: left;
  color: var(--soft);
  padding: 0;
}

.choices {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
}

.choices button {
  min-height: 44px;
  border-color: var(--hair);
  background: transparent;
}

.choices button.chosen {
  background: var(--primary);
  border-color: var(--primary);
}

.any {
  width: 210px;
}

@media (pointer: coarse) {
  .choices button {
    min-height: 56px;
  }
}

@media (max-width: 700px) {
  fieldset {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
