<script setup lang="ts">
import type { Schemas } from '@/schema/schemas'
import ChoiceRow from '@/shared/ChoiceRow.vue'
import { useSession } from '@/shared/session'

/** The units of a handbook, one choice for each thing that is measured. */
const units = defineModel<Schemas['QuantityUnits']>({ required: true })
const session = useSession()
</script>

<template>
  <div>
    <ChoiceRow
      v-for="s in session.current!.choices"
      :key="s.name"
      :name="s.label"
      :model-value="units[s.name as 'speed'] || s.choices[0]!"
      :choices="s.choices.map((c) => [c, c])"
      :data-units="s.name"
      @update:model-value="units = { ...units, [s.name]: $event }"
    />
  </div>
</template>

<style scoped>
div :deep(button) {
  min-height: 40px;
}
</style>
