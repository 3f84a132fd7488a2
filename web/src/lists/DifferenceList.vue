<script setup lang="ts">
import { computed, shallowRef, watch } from 'vue'

import type { Difference, List } from '@/schema/schemas'
import { rules } from '@/rules/rules'
import { ElTable, ElTableColumn } from '@/shared/table'
import { reasonShape, reasonWords } from '@/shared/words'

/** Two versions of a list, item by item. */
const props = defineProps<{ list: List; older: List }>()
const found = shallowRef<Difference[] | null>(null)
watch(
  () => [props.older, props.list] as const,
  async ([older, list]) => (found.value = await rules.differences(older, list)),
  { immediate: true },
)

/** The differences item by item, each with how many lines its item has. */
const rows = computed(() => {
  const of = Map.groupBy(found.value ?? [], (d) => d.item)
  return [...of.values()].flatMap((all) => all.map((d, i) => ({ ...d, lines: i ? 0 : all.length })))
})
const count = computed(() => rows.value.filter((r) => r.lines).length)
type Row = (typeof rows.value)[number]
/** The item stands once, before all of its lines. */
const span = ({ row, columnIndex }: { row: Row; columnIndex: number }) =>
  columnIndex ? [1, 1] : [row.lines, row.lines ? 1 : 0]
const text = (v: unknown) =>
  v === undefined || v === '' ? '—' : Array.isArray(v) ? v.join('; ') : v === true ? 'yes' : String(v)
const response = (id: string) =>
  props.list.phases.flatMap((p) => p.items).find((i) => i.id === id)?.response ?? ''
const title = (id: string) =>
  [...props.list.phases, ...props.older.phases].find((p) => p.id === id)?.title ?? id
</script>

<template>
  <div>
    <p v-if="found && !count" class="within">● No item differs.</p>
    <p v-else-if="found" class="soft">{{ count === 1 ? '1 item differs' : `${count} items differ` }}.</p>
    <ElTable
      v-if="count"
      :data="rows"
      :span-method="span"
      :row-class-name="({ row }) => `item-${row.item}`"
      data-part="differences"
    >
      <ElTableColumn label="item" min-width="110">
        <template #default="{ row }">
          <b>{{ row.challenge }}</b> <small class="soft">{{ title(row.phase) }}</small>
        </template>
      </ElTableColumn>
      <ElTableColumn label="what" width="120">
        <template #default="{ row }">
          <b>{{ reasonShape[row.kind] }} {{ reasonWords[row.kind] }}</b>
        </template>
      </ElTableColumn>
      <ElTableColumn label="field" width="110">
        <template #default="{ row }">{{ row.kind === 'moved' ? 'behind' : row.field }}</template>
      </ElTableColumn>
      <ElTableColumn label="before" min-width="120">
        <template #default="{ row }">
          <s v-if="row.before !== undefined">{{ text(row.before) }}</s>
        </template>
      </ElTableColumn>
      <ElTableColumn label="now" min-width="120">
        <template #default="{ row }">
          {{ row.after !== undefined ? text(row.after) : row.kind === 'added' ? response(row.item) : '' }}
        </template>
      </ElTableColumn>
    </ElTable>
  </div>
</template>

<style scoped>
small {
  display: block;
}

s {
  color: var(--soft);
}
</style>
