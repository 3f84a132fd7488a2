<script setup lang="ts">
import AppButton from '@/base/AppButton.vue'
import AppInput from '@/base/AppInput.vue'
import AppSelect from '@/base/AppSelect.vue'
import type { AircraftType } from '@/schema/schemas'
import { boxText, freeId, setter } from '@/shared/edit'
import { rules } from '@/rules/rules'
import OnOff from '@/shared/OnOff.vue'
import UnitChoices from '@/types/UnitChoices.vue'
import { builds, classWords } from '@/shared/words'

/** What the type is: its name and handbook, how it is built, what it is fitted with. */
const props = defineProps<{ type: AircraftType; readonly: boolean }>()
const emit = defineEmits<{ change: [what: string, type: AircraftType] }>()
const set = setter(() => props.type, emit)
const built = [
  ['engineKind', 'Engine'],
  ['startType', 'Start'],
  ['ignition', 'Ignition'],
  ['propeller', 'Propeller'],
  ['tachometer', 'Tachometer in'],
] as const
function add(e: Event) {
  const box = e.target as HTMLInputElement
  const label = box.value.trim()
  if (!label) return
  const id = freeId(
    rules.slug(label) || 'equipment',
    props.type.equipment.map((e) => e.id),
  )
  set(['equipment'], [...props.type.equipment, { id, label, optional: true }])
  box.value = ''
}
/** Two engines have names and an order; one has none. */
function engines(n: number) {
  const names =
    n > 1
      ? { engineNames: ['left', 'right'], startOrder: [1, 2] }
      : { engineNames: undefined, startOrder: undefined, startOrderWhy: undefined }
  emit('change', 'engines', { ...props.type, engines: n, ...names })
}
</script>

<template>
  <section aria-label="What it is" class="basics">
    <h2>What it is</h2>
    <label
      >Name
      <AppInput
        type="text"
        name="type-name"
        maxlength="60"
        :value="type.name"
        :readonly="readonly"
        @input="set(['name'], boxText($event))"
    /></label>
    <label
      >Handbook and its revision
      <AppInput
        type="text"
        name="type-source"
        maxlength="200"
        :value="type.source"
        :readonly="readonly"
        @input="set(['source'], boxText($event))"
    /></label>
    <div class="pairs">
      <label
        >Class
        <AppSelect
          name="class"
          :model-value="type.class"
          :disabled="readonly"
          @update:model-value="set(['class'], String($event))"
        >
          <option v-for="(words, id) in classWords" :key="id" :value="id">{{ words }}</option>
        </AppSelect></label
      >
      <label v-for="[field, words] in built" :key="field"
        >{{ words }}
        <AppSelect
          :name="field"
          :model-value="type[field] ?? ''"
          :disabled="readonly"
          @update:model-value="set([field], String($event) || undefined)"
        >
          <option v-for="w in builds[field]" :key="w.id" :value="w.id">{{ w.words }}</option>
        </AppSelect></label
      >
      <label
        >Engines
        <AppSelect
          name="engines"
          :model-value="type.engines"
          :disabled="readonly"
          @update:model-value="engines(Number(String($event)))"
        >
          <option v-for="n in 2" :key="n" :value="n">{{ n }}</option>
        </AppSelect></label
      >
      <label v-if="type.engines > 1"
        >Why this order of starting
        <AppInput
          type="text"
          name="start-order-why"
          :value="type.startOrderWhy"
          :readonly="readonly"
          @input="set(['startOrderWhy'], boxText($event) || undefined)"
      /></label>
    </div>
    <OnOff
      :model-value="type.leanOnGround"
      words="the maker allows leaning on the ground"
      name="lean"
      :disabled="readonly"
      @update:model-value="set(['leanOnGround'], $event)"
    />
    <h3 class="ruled">The handbook gives its numbers in</h3>
    <UnitChoices
      :model-value="type.handbook?.units ?? {}"
      @update:model-value="readonly || set(['handbook', 'units'], $event)"
    />
    <h3 class="ruled">Equipment</h3>
    <p v-for="(e, i) in type.equipment" :key="e.id" class="line" :data-equipment="e.id">
      <AppInput
        type="text"
        :aria-label="`name of ${e.label}`"
        :value="e.label"
        :readonly="readonly"
        @input="set(['equipment', i, 'label'], boxText($event))"
      />
      <OnOff
        :model-value="!e.optional"
        words="every one has it"
        :disabled="readonly"
        @update:model-value="set(['equipment', i, 'optional'], $event ? undefined : true)"
      />
      <AppButton
        v-if="!readonly"
        class="quiet"
        :aria-label="`${e.label}: take it away`"
        @click="
          set(
            ['equipment'],
            type.equipment.filter((_, n) => n !== i),
          )
        "
      >
        ×
      </AppButton>
    </p>
    <AppInput
      v-if="!readonly"
      type="text"
      name="new-equipment"
      placeholder="more equipment: type its name, then Enter"
      maxlength="60"
      @change="add"
    />
  </section>
</template>

<style scoped>
.basics {
  display: grid;
  gap: 8px;
}

h2 {
  font-size: 22px;
  font-weight: 700;
}

.pairs {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(200px, 1fr));
  gap: 8px 16px;
}

.line {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 170px 40px;
  gap: 8px;
  align-items: center;
}

@media (max-width: 640px) {
  .line {
    grid-template-columns: minmax(0, 1fr) 40px;
  }

  .line > :nth-child(2) {
    grid-row: 2;
  }
}
</style>
