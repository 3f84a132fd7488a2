<script setup lang="ts">
import { computed } from 'vue'

import AppButton from '@/base/AppButton.vue'
import AppInput from '@/base/AppInput.vue'
import AppText from '@/base/AppText.vue'
import type { AircraftType } from '@/schema/schemas'
import { boxText, setter } from '@/shared/edit'
import { rules } from '@/rules/rules'
import OnOff from '@/shared/OnOff.vue'

/** The names of a type's speeds or times, or its cautions: more of them, and none that it does not have. */
const props = defineProps<{
  type: AircraftType
  of: 'speeds' | 'durations' | 'cautions'
  readonly: boolean
}>()
const emit = defineEmits<{ change: [what: string, type: AircraftType] }>()
const set = setter(() => props.type, emit)
const said = {
  speeds: ['Which speeds there are', 'another speed: type its name, then Enter'],
  durations: ['Which times there are', 'another time: type its name, then Enter'],
  cautions: ['Cautions', 'another caution, in a sentence, then Enter'],
}
const lines = computed(() =>
  props.of === 'cautions'
    ? props.type.cautions.map((label, i) => ({ id: String(i), label, act: undefined }))
    : props.type[props.of]!.map((o) => ({ id: o.id, label: o.label, act: 'act' in o && !!o.act })),
)
const without = (i: number) =>
  set(
    [props.of],
    (props.type[props.of] as unknown[]).filter((_, n) => n !== i),
  )
function add(e: Event) {
  const box = e.target as HTMLInputElement
  const label = box.value.trim()
  if (!label) return
  const id = rules.slug(label)
  const now = props.type[props.of] as unknown[]
  if (props.of !== 'cautions' && (!id || lines.value.some((l) => l.id === id))) return
  const one = { speeds: { id, label, knots: 0 }, durations: { id, label }, cautions: label }[props.of]
  set([props.of], [...now, one])
  box.value = ''
}
</script>

<template>
  <section :aria-label="said[of][0]" class="names">
    <h3 class="ruled">{{ said[of][0] }}</h3>
    <p v-for="(l, i) in lines" :key="l.id" class="line">
      <AppText
        v-if="of === 'cautions'"
        rows="2"
        :aria-label="`caution ${i + 1}`"
        :value="l.label"
        :readonly="readonly"
        @input="set([of, i], boxText($event))"
      />
      <AppInput
        v-else
        type="text"
        :aria-label="`name of ${l.label}`"
        :value="l.label"
        :readonly="readonly"
        @input="set([of, i, 'label'], boxText($event))"
      />
      <OnOff
        v-if="of === 'durations'"
        :model-value="!!l.act"
        words="the person's act"
        :disabled="readonly"
        @update:model-value="set([of, i, 'act'], $event || undefined)"
      />
      <AppButton v-if="!readonly" class="quiet" :aria-label="`${l.label}: take it away`" @click="without(i)">
        ×
      </AppButton>
    </p>
    <AppInput
      v-if="!readonly"
      type="text"
      :name="`new-${of}`"
      :placeholder="said[of][1]"
      maxlength="200"
      @change="add"
    />
  </section>
</template>

<style scoped>
.names {
  display: grid;
  gap: 6px;
  padding-top: 12px;
}

.line {
  display: flex;
  gap: 8px;
  align-items: center;
}

.line > :first-child {
  flex: 1;
}
</style>
