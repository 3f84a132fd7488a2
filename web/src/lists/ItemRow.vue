<script setup lang="ts">
import AppButton from '@/base/AppButton.vue'
import type { DeskView, Item } from '@/schema/schemas'
import ItemFields from '@/lists/ItemFields.vue'

/** One line of a list being written; the chosen one opens into its fields. */
defineProps<{
  item: Item
  number: string
  chosen: boolean
  problems?: Record<string, string>
  desk: DeskView
  before: { id: string; challenge: string }[]
  readonly: boolean
}>()
const emit = defineEmits<{
  choose: []
  set: [field: string, value: unknown]
  move: [by: number]
  remove: []
  copy: []
}>()
</script>

<template>
  <div :class="['item', { chosen }]" :data-item="item.id">
    <div class="line">
      <span v-if="!readonly" class="grip" aria-hidden="true">⠿</span>
      <AppButton
        class="plain"
        :aria-expanded="chosen"
        @click="emit('choose')"
        @keydown.alt.up.prevent="emit('move', -1)"
        @keydown.alt.down.prevent="emit('move', 1)"
        @keydown.delete.prevent="emit('remove')"
      >
        <span class="figure soft">{{ number }}</span>
        <span :class="{ critical: item.critical }">{{ item.challenge || '(no challenge)' }}</span>
        <span class="soft">{{ item.response }}</span>
        <span class="small soft marks"
          ><span v-if="item.check" title="measured">⌀ {{ item.check }}</span
          ><span v-if="item.when" :title="`only when ${item.when}`">◆ if</span
          ><span v-if="item.per" title="per engine">1·2</span
          ><span v-if="problems" class="out">■ {{ Object.values(problems)[0] }}</span></span
        >
      </AppButton>
      <span v-if="chosen && !readonly" class="tools">
        <AppButton class="quiet" title="up (Alt+↑)" aria-label="Move up" @click="emit('move', -1)"
          >↑</AppButton
        >
        <AppButton class="quiet" title="down (Alt+↓)" aria-label="Move down" @click="emit('move', 1)"
          >↓</AppButton
        >
        <AppButton class="quiet" @click="emit('copy')">add one below</AppButton>
        <AppButton class="quiet" @click="emit('remove')">take out</AppButton>
      </span>
    </div>
    <ItemFields
      v-if="chosen"
      :item="item"
      :desk="desk"
      :problems="problems ?? {}"
      :before="before"
      :readonly="readonly"
      @set="(field, value) => emit('set', field, value)"
    />
  </div>
</template>

<style scoped>
.item {
  border-bottom: 1px solid var(--fine);
  content-visibility: auto;
  contain-intrinsic-size: auto 40px;
}

.chosen {
  background: var(--live);
  padding-inline: 8px;
  content-visibility: visible;
}

.line {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
}

.grip {
  cursor: grab;
  padding: 6px 8px 6px 0;
  color: var(--soft);
  touch-action: none;
}

.plain {
  flex: 1 1 300px;
  display: grid;
  grid-template-columns: 48px minmax(0, 5fr) minmax(0, 6fr) minmax(0, 4fr);
  gap: 8px;
  align-items: center;
  min-height: 38px;
  padding: 2px 0;
  border: 0;
  background: none;
  text-align: left;
}

.critical {
  font-weight: 700;
}

.marks {
  display: flex;
  gap: 10px;
}

.tools {
  display: flex;
}

.tools .quiet {
  min-height: 36px;
}
</style>
