<script setup lang="ts">
import { computed } from 'vue'

import AppButton from '@/base/AppButton.vue'
import AppInput from '@/base/AppInput.vue'
import AppSelect from '@/base/AppSelect.vue'
import type { AircraftType } from '@/schema/schemas'
import { boxText, setter, type Path } from '@/shared/edit'
import { rules } from '@/rules/rules'
import { engineStates } from '@/shared/words'

/** How the engine is prepared for a start: the first row that fits is the plan. */
const props = defineProps<{ type: AircraftType; readonly: boolean }>()
const emit = defineEmits<{ change: [what: string, type: AircraftType] }>()
const set = setter(() => props.type, emit)
const rows = computed(() => props.type.prime?.rows ?? [])
const columns = [
  ['method', 'method', 1],
  ['unit', 'counted in', 1],
  ['throttle', 'throttle', 1],
  ['mixture', 'mixture', 1],
] as const
function number(path: Path, e: Event, or: unknown) {
  const typed = boxText(e).trim()
  const n = Number(typed)
  if (typed === '') set(path, or)
  else if (Number.isFinite(n)) set(path, n)
}
const have = (has: boolean) => emit('change', 'prime', rules.have(props.type, 'prime', has))
const another = () => rows.value.at(-1) ?? { ...props.type.prime!.flooded, engine: engineStates[0] }
const add = () => set(['prime', 'rows'], [...rows.value, another()])
const all = computed(() => [
  ...rows.value.map((row, i) => ({ row, path: ['prime', 'rows', i] as Path, name: '' })),
  ...(props.type.prime
    ? [{ row: props.type.prime.flooded, path: ['prime', 'flooded'] as Path, name: 'flooded' }]
    : []),
])
</script>

<template>
  <section aria-label="How it is primed" class="prime">
    <h3 class="ruled">How it is primed</h3>
    <template v-if="!type.prime">
      <p class="soft">By the state of the engine and the outside air: strokes, pump, choke, glow.</p>
      <AppButton v-if="!readonly" data-action="begin-prime" @click="have(true)">
        The handbook has such a table
      </AppButton>
    </template>
    <div v-for="({ row, path, name }, i) in all" :key="i" class="row" :data-prime="name || i">
      <label v-if="name">engine <AppInput type="text" :value="name" readonly /></label>
      <label v-else
        >engine
        <AppSelect
          :model-value="row.engine"
          :disabled="readonly"
          @update:model-value="set([...path, 'engine'], String($event))"
        >
          <option v-for="s in engineStates" :key="s" :value="s">{{ s }}</option>
        </AppSelect></label
      >
      <label v-if="!name"
        >below, °C
        <AppInput
          type="text"
          :value="row.belowC ?? ''"
          placeholder="all left"
          :readonly="readonly"
          @change="number([...path, 'belowC'], $event, undefined)"
      /></label>
      <label
        >amount
        <AppInput
          type="text"
          :value="row.amount"
          :readonly="readonly"
          @change="number([...path, 'amount'], $event, 0)"
      /></label>
      <label v-for="[field, words] in columns" :key="field"
        >{{ words }}
        <AppInput
          type="text"
          :value="row[field]"
          :readonly="readonly"
          @input="set([...path, field], boxText($event))"
      /></label>
      <label class="wide"
        >note
        <AppInput
          type="text"
          :value="row.note"
          :readonly="readonly"
          @input="set([...path, 'note'], boxText($event) || undefined)"
      /></label>
      <AppButton
        v-if="!readonly && !name"
        class="quiet"
        aria-label="take this row away"
        @click="
          set(
            ['prime', 'rows'],
            rows.filter((_, n) => n !== i),
          )
        "
      >
        ×
      </AppButton>
    </div>
    <p v-if="!readonly && type.prime">
      <AppButton class="quiet" data-action="add-prime" @click="add">+ row</AppButton>
      <AppButton class="quiet" @click="have(false)">no such table after all</AppButton>
    </p>
  </section>
</template>

<style scoped>
.prime {
  display: grid;
  gap: 8px;
  padding-top: 12px;
}

.row {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(110px, 1fr));
  gap: 4px 8px;
  align-items: end;
  border-bottom: 1px solid var(--fine);
  padding-bottom: 6px;
}

label {
  font-size: 13px;
  color: var(--soft);
}

.wide {
  grid-column: span 2;
}
</style>
