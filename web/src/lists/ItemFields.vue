<script setup lang="ts">
import 'element-plus/es/components/form/style/css'
import 'element-plus/es/components/form-item/style/css'
import 'element-plus/es/components/input/style/css'

import { ElForm, ElFormItem, ElInput } from 'element-plus'
import { computed } from 'vue'

import type { DeskView, Item } from '@/schema/schemas'
import OnOff from '@/shared/OnOff.vue'
import SearchSelect from '@/shared/SearchSelect.vue'

/** Every field of an item, for the one that is being written. */
const props = defineProps<{
  item: Item
  desk: DeskView
  problems: Record<string, string>
  /** Ids of the items before it, with their challenges. */
  before: { id: string; challenge: string }[]
  readonly: boolean
}>()
const emit = defineEmits<{ set: [field: string, value: unknown] }>()

const texts = [
  ['challenge', 'Challenge'],
  ['response', 'Response'],
  ['why', 'Why it is there'],
  ['look', 'Looked at with'],
  ['abnormal', 'What abnormal looks like'],
  ['caution', 'Caution, shown at the item'],
] as const
const fields = computed(() => props.item as unknown as Record<string, string | string[] | undefined>)
const text = (field: string) => String(fields.value[field] ?? '')
const many = (field: string) => (fields.value[field] ?? []) as string[]

function write(field: string, value: string) {
  const required = ['id', 'challenge', 'response', 'why'].includes(field)
  emit('set', field, value === '' && !required ? undefined : value)
}
const some = (field: string, values: readonly string[]) =>
  emit('set', field, values.length ? [...values] : undefined)

const type = computed(() => props.desk.type)
const own = (ids: string[]) => ids.map((id) => [id, id] as const)
/** What one is chosen for: field, label, options, what choosing nothing is called. */
const ones = computed(
  () =>
    [
      ['place', 'Place', (type.value.cockpit ?? []).map((p) => [p.id, p.label] as const), 'none'],
      ['check', 'Measured check', own(Object.keys(type.value.limits).sort()), 'none'],
      ...(type.value.engines > 1
        ? [
            [
              'per',
              'Engines',
              [['each', 'each, side by side'] as const, ['block', 'one after the other'] as const],
              'once for both',
            ] as const,
          ]
        : []),
    ] as const,
)
const manies = computed(() =>
  (
    [
      [
        'gauges',
        'Gauges',
        props.item.check === 'gauges' ? type.value.gauges.map((g) => [g.id, g.label] as const) : [],
      ],
      ['timers', 'Timers', own((type.value.durations ?? []).map((d) => d.id))],
      ['after', 'Must come before it', props.before.map((b) => [b.id, b.challenge] as const)],
      ['elements', 'Shows of the standard', Object.entries(props.desk.elements)],
    ] as const
  ).filter(([, , options]) => options.length),
)
</script>

<template>
  <ElForm label-position="top" class="fields" @submit.prevent>
    <ElFormItem
      v-for="[field, label] in texts"
      :key="field"
      :label="label"
      :error="problems[field]"
      :class="{ wide: field === 'why' }"
    >
      <ElInput
        :name="field"
        :model-value="text(field)"
        :readonly="readonly"
        @update:model-value="write(field, $event)"
      />
    </ElFormItem>
    <ElFormItem label="Usual errors, one a line" :error="problems.errors" class="wide">
      <ElInput
        type="textarea"
        :rows="2"
        name="errors"
        :model-value="many('errors').join('\n')"
        :readonly="readonly"
        @update:model-value="emit('set', 'errors', $event.split('\n'))"
        @change="
          some(
            'errors',
            $event.split('\n').filter((line: string) => line !== ''),
          )
        "
      />
    </ElFormItem>
    <ElFormItem label="Only when" :error="problems.when" class="wide">
      <ElInput
        class="figure"
        name="when"
        placeholder="always; or such as: oat < 5 °C and not engine is hot"
        :model-value="text('when')"
        :readonly="readonly"
        @update:model-value="write('when', $event)"
      />
    </ElFormItem>
    <div class="row">
      <ElFormItem
        v-for="[field, label, options, none] in ones"
        :key="field"
        :label="label"
        :error="problems[field]"
      >
        <SearchSelect
          :name="field"
          :model-value="text(field)"
          :options="options"
          :none="none"
          :disabled="readonly"
          @update:model-value="write(field, String($event))"
        />
      </ElFormItem>
      <OnOff
        name="critical"
        words="critical: left out, it ends the exercise"
        :model-value="!!item.critical"
        :disabled="readonly"
        @update:model-value="emit('set', 'critical', $event || undefined)"
      />
    </div>
    <div class="row">
      <ElFormItem
        v-for="[field, label, options] in manies"
        :key="field"
        :label="label"
        :error="problems[field]"
      >
        <SearchSelect
          multiple
          :name="field"
          :model-value="many(field)"
          :options="options"
          :disabled="readonly"
          @update:model-value="some(field, $event as string[])"
        />
      </ElFormItem>
    </div>
    <ElFormItem
      v-if="!item.elements?.length && !item.knowledge?.length"
      label="Why no standard names it"
      :error="problems.noStandard"
      class="wide"
    >
      <ElInput
        name="noStandard"
        :model-value="text('noStandard')"
        :readonly="readonly"
        @update:model-value="write('noStandard', $event)"
      />
    </ElFormItem>
    <p class="small soft wide">
      id <span class="figure">{{ item.id }}</span>
    </p>
  </ElForm>
</template>

<style scoped>
.fields {
  display: grid;
  grid-template-columns: repeat(2, minmax(0, 1fr));
  gap: 8px 14px;
  padding: 10px 0 14px;
}

.wide,
.row {
  grid-column: 1 / -1;
}

.row {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 14px;
}

.row > .el-form-item {
  flex: 1 1 220px;
}

.row > .onoff {
  align-self: end;
}

@media (max-width: 700px) {
  .fields {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
