<script setup lang="ts">
import { computed } from 'vue'

import ChoiceRow from '@/shared/ChoiceRow.vue'
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
  <ChoiceRow v-model="chosen" :name="name" :choices="inSight">
    <SearchSelect
      v-if="choices.length > inSight.length"
      class="any"
      :model-value="''"
      :name="name"
      :label="`another ${name.toLowerCase()}`"
      :options="choices.map(([value, words]) => [value!, words!] as const)"
      none="another: type a part"
      @update:model-value="chosen = String($event)"
    />
  </ChoiceRow>
</template>

<style scoped>
.any {
  width: 210px;
}
</style>
