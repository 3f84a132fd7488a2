<script setup lang="ts">
import AppButton from '@/base/AppButton.vue'

defineProps<{ name: string; choices: string[][] }>()
const chosen = defineModel<string>({ required: true })
</script>

<template>
  <fieldset>
    <legend>{{ name }}</legend>
    <div class="choices">
      <AppButton
        v-for="[value, label] in choices"
        :key="value"
        :class="{ chosen: chosen === value }"
        :aria-pressed="chosen === value"
        @click="chosen = value!"
      >
        {{ label }}
      </AppButton>
      <slot />
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
