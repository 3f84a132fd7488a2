<script setup lang="ts">
import { computed, ref, shallowRef, watch } from 'vue'

import { api, take, type List, type Version } from '@/api/client'
import { rules, type Difference } from '@/rules/rules'
import ProblemNotice from '@/shared/ProblemNotice.vue'
import SearchSelect from '@/shared/SearchSelect.vue'
import { ElTable, ElTableColumn } from '@/shared/table'
import { reasonShape, reasonWords, statusWords } from '@/shared/words'

/** Two versions of a list, item by item. */
const props = defineProps<{ list: List; versions: Version[] }>()
const others = computed(() =>
  props.versions
    .filter(
      (v) =>
        v.kind === 'list' &&
        v.aircraftType === props.list.aircraftType &&
        (v.id !== props.list.id || v.version !== props.list.version),
    )
    .sort((a, b) => b.version - a.version),
)
const key = (v: Version) => `${v.id} ${v.version}`
const chosen = ref('')
const older = shallowRef<List | null>(null)
const found = shallowRef<Difference[] | null>(null)
const problem = ref('')

watch(
  others,
  () => {
    const before = others.value.find((v) => v.id === props.list.id && v.version < props.list.version)
    if (!others.value.some((v) => key(v) === chosen.value)) chosen.value = before ? key(before) : ''
  },
  { immediate: true },
)
watch(
  chosen,
  async () => {
    older.value = null
    const v = others.value.find((o) => key(o) === chosen.value)
    if (!v) return
    try {
      const view = await take(
        api.GET('/api/v1/library/{kind}/{id}/{version}', {
          params: { path: { kind: 'list', id: v.id, version: v.version } },
        }),
      )
      older.value = view.document as List
    } catch (e) {
      problem.value = e instanceof Error ? e.message : String(e)
    }
  },
  { immediate: true },
)
watch(
  [older, () => props.list],
  async () => {
    if (older.value) found.value = await rules.differences(older.value, props.list)
  },
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
  [...props.list.phases, ...(older.value?.phases ?? [])].find((p) => p.id === id)?.title ?? id
</script>

<template>
  <div>
    <label class="with"
      >Compared with
      <SearchSelect
        v-model="chosen"
        name="compare"
        :options="others.map((v) => [key(v), `${v.title}, version ${v.version}, ${statusWords[v.status]}`])"
      />
    </label>
    <ProblemNotice v-model="problem" />
    <p v-if="!others.length" class="soft">There is no other version to compare with.</p>
    <p v-else-if="found && !count" class="within">● No item differs.</p>
    <p v-else-if="found" class="soft">{{ count }} items differ.</p>
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
.with {
  max-width: 560px;
}

small {
  display: block;
}

s {
  color: var(--soft);
}
</style>
