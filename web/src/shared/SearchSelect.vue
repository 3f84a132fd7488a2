<script setup lang="ts">
import 'element-plus/es/components/option/style/css'
import 'element-plus/es/components/select/style/css'

import { ElOption, ElSelect } from 'element-plus'
import { computed } from 'vue'

/** One of many, or some of many, found by typing a part of its words. */
const props = defineProps<{
  options: readonly (readonly [value: string, label: string])[]
  name?: string
  label?: string // for a reader, where no label stands around it
  multiple?: boolean
  none?: string // what choosing nothing is called; without it something is always chosen
  disabled?: boolean
  own?: boolean // words that are not among the options may be typed
}>()
const chosen = defineModel<string | readonly string[]>({ required: true })
const value = computed({
  get: () => (props.multiple ? [...chosen.value] : chosen.value),
  set: (v) => (chosen.value = v ?? ''),
})
</script>

<template>
  <ElSelect
    v-model="value"
    :name="name"
    :aria-label="label"
    :multiple="multiple"
    :disabled="disabled"
    :placeholder="none ?? (multiple ? 'none' : ' ')"
    :clearable="none !== undefined"
    :persistent="false"
    no-match-text="Nothing has these words."
    no-data-text="There is nothing to choose."
    :allow-create="own"
    :default-first-option="own"
    filterable
    @keydown.enter.prevent
  >
    <ElOption v-for="[v, words] in options" :key="v" :value="v" :label="words" :data-option="v" />
  </ElSelect>
</template>
