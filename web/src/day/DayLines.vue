<script setup lang="ts">
import AppInput from '@/base/AppInput.vue'
import type { Schemas } from '@/schema/schemas'
import { ElTable, ElTableColumn } from '@/shared/table'
import { shape } from '@/shared/words'

/** The day computed, a line a number, with what the student came to beside it. */
defineProps<{ lines: Schemas['CalcSheet']['lines']; own: Record<string, string> }>()
const emit = defineEmits<{ own: [line: string, text: string] }>()
</script>

<template>
  <ElTable :data="lines" row-key="id" :row-class-name="({ row }) => `line-${row.id}`" data-part="sheet">
    <ElTableColumn label="what" min-width="110">
      <template #default="{ row }"
        >{{ row.label }} <small class="soft">{{ row.source }}</small></template
      >
    </ElTableColumn>
    <ElTableColumn label="computed" min-width="90" align="right">
      <template #default="{ row }"
        ><b class="figure computed">{{ row.value }}</b> {{ row.unit }}</template
      >
    </ElTableColumn>
    <ElTableColumn label="student’s own" min-width="124">
      <template #default="{ row }">
        <span class="own">
          <AppInput
            :model-value="own[row.id]"
            @update:model-value="emit('own', row.id, String($event))"
            type="text"
            :aria-label="`Student's own ${row.label}`"
            :name="`own-${row.id}`"
          />
          <span v-if="row.own" :class="row.own.state">{{ shape(row.own.state) }} {{ row.own.words }}</span>
        </span>
      </template>
    </ElTableColumn>
  </ElTable>
</template>

<style scoped>
b.computed {
  font-size: 20px;
}

.own {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 8px;
  white-space: nowrap;
}

.own input {
  width: 78px;
  padding: 4px 8px;
}

small {
  display: block;
  font-size: 12px;
}
</style>
