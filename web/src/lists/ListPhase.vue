<script setup lang="ts">
import AppButton from '@/base/AppButton.vue'
import AppInput from '@/base/AppInput.vue'
import { count } from '@/shared/words'
import type { DeskView, List } from '@/schema/schemas'
import ItemRow from '@/lists/ItemRow.vue'

/** One phase of a list being written. A change in another phase does not draw it anew. */
defineProps<{
  phase: List['phases'][number]
  index: number
  /** The id of the opened item, where it is in this phase. */
  chosen: string
  problems?: Map<number, Record<string, string>>
  desk: DeskView
  before: { id: string; challenge: string }[]
  readonly: boolean
}>()
const emit = defineEmits<{
  title: [title: string]
  choose: [item: string]
  set: [item: number, field: string, value: unknown]
  move: [item: number, by: number]
  remove: [item: number]
  add: [at: number]
}>()
</script>

<template>
  <section class="phase" :data-phase-id="phase.id">
    <h3>
      <span class="figure soft">{{ index + 1 }}</span>
      <AppInput
        v-if="!readonly"
        type="text"
        :value="phase.title"
        :aria-label="`Title of phase ${index + 1}`"
        @input="emit('title', ($event.target as HTMLInputElement).value)"
      />
      <template v-else>{{ phase.title }}</template>
      <span class="soft small">{{ count(phase.items.length, 'item') }}</span>
    </h3>
    <div class="items" :data-phase="index">
      <ItemRow
        v-for="(item, i) in phase.items"
        :key="item.id"
        :item="item"
        :number="`${index + 1}.${i + 1}`"
        :chosen="chosen === item.id"
        :problems="problems?.get(i)"
        :desk="desk"
        :before="before"
        :readonly="readonly"
        @choose="emit('choose', item.id)"
        @set="(field, value) => emit('set', i, field, value)"
        @move="emit('move', i, $event)"
        @remove="emit('remove', i)"
        @copy="emit('add', i + 1)"
      />
    </div>
    <AppButton v-if="!readonly" class="quiet add" @click="emit('add', phase.items.length)">+ item</AppButton>
  </section>
</template>

<style scoped>
.phase {
  margin-bottom: 14px;
}

h3 {
  display: flex;
  gap: 10px;
  align-items: baseline;
  font-size: 18px;
  font-weight: 700;
  border-bottom: 2px solid var(--ink);
  padding-bottom: 2px;
}

h3 input {
  border: 0;
  padding: 2px 4px;
  font-weight: 700;
  background: transparent;
  max-width: 420px;
}

.items {
  min-height: 8px;
}

.add {
  min-height: 34px;
  color: var(--soft);
}
</style>
