<script setup lang="ts">
import AppButton from '@/base/AppButton.vue'
import AppInput from '@/base/AppInput.vue'
import type { AircraftType } from '@/schema/schemas'
import { boxText, put, setter, type Path } from '@/shared/edit'
import { rules } from '@/rules/rules'
import OnOff from '@/shared/OnOff.vue'
import { powers } from '@/shared/words'

/** Which gauges the type has: their units and scales, and at which powers their bands differ. */
const props = defineProps<{ type: AircraftType; readonly: boolean }>()
const emit = defineEmits<{ change: [what: string, type: AircraftType] }>()
const set = setter(() => props.type, emit)
type Band = { at?: Record<string, object> }
const band = (id: string) => (props.type.limits.gauges?.[id] ?? {}) as Band

function number(path: Path, e: Event) {
  const typed = boxText(e).trim()
  const n = Number(typed)
  if (Number.isFinite(n)) set(path, typed === '' ? undefined : n)
}
function differs(id: string, power: string, on: boolean) {
  const at = put(band(id).at ?? {}, [power], on ? {} : undefined)
  set(['limits', 'gauges', id, 'at'], Object.keys(at).length ? at : undefined)
}
function add(e: Event) {
  const box = e.target as HTMLInputElement
  const label = box.value.trim()
  const id = rules.slug(label)
  if (!id || props.type.gauges.some((g) => g.id === id)) return
  const gauges = [
    ...props.type.gauges,
    { id, label, unit: '', perEngine: props.type.engines > 1 || undefined },
  ]
  emit('change', 'gauges', put({ ...props.type, gauges }, ['limits', 'gauges', id], {}))
  box.value = ''
}
function without(i: number) {
  const id = props.type.gauges[i]!.id
  const gauges = props.type.gauges.filter((_, n) => n !== i)
  const minimums = props.type.minimums?.filter((m) => m.gauge !== id)
  emit('change', 'gauges', put({ ...props.type, gauges, minimums }, ['limits', 'gauges', id], undefined))
}
</script>

<template>
  <section aria-label="Which gauges there are" class="gauges">
    <h3 class="ruled">Which gauges there are</h3>
    <div v-for="(g, i) in type.gauges" :key="g.id" class="gauge" :data-gauge-of="g.id">
      <label
        >name
        <AppInput
          type="text"
          :value="g.label"
          :readonly="readonly"
          @input="set(['gauges', i, 'label'], boxText($event))"
      /></label>
      <label
        >marked in
        <AppInput
          type="text"
          :value="g.unit"
          maxlength="12"
          :readonly="readonly"
          @input="set(['gauges', i, 'unit'], boxText($event))"
      /></label>
      <label
        >scale from
        <AppInput
          type="text"
          inputmode="decimal"
          :value="g.from ?? ''"
          :readonly="readonly"
          @change="number(['gauges', i, 'from'], $event)"
      /></label>
      <label
        >to
        <AppInput
          type="text"
          inputmode="decimal"
          :value="g.to ?? ''"
          :readonly="readonly"
          @change="number(['gauges', i, 'to'], $event)"
      /></label>
      <AppButton v-if="!readonly" class="quiet" :aria-label="`${g.label}: take it away`" @click="without(i)">
        ×
      </AppButton>
      <p class="powers">
        <span class="soft small">another band at</span>
        <OnOff
          v-for="p in powers"
          :key="p.id"
          :model-value="!!band(g.id).at?.[p.id]"
          :words="p.words"
          :disabled="readonly"
          @update:model-value="differs(g.id, p.id, $event)"
        />
      </p>
    </div>
    <AppInput
      v-if="!readonly"
      type="text"
      name="new-gauge"
      placeholder="another gauge: type its name, then Enter"
      maxlength="40"
      @change="add"
    />
  </section>
</template>

<style scoped>
.gauges {
  display: grid;
  gap: 8px;
  padding-top: 12px;
}

.gauge {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 76px 70px 70px 40px;
  gap: 4px 8px;
  align-items: end;
  border-bottom: 1px solid var(--fine);
  padding-bottom: 4px;
}

label {
  font-size: 13px;
  color: var(--soft);
}

.powers {
  grid-column: 1 / -1;
  display: flex;
  flex-wrap: wrap;
  gap: 2px 14px;
  align-items: center;
}

@media (max-width: 500px) {
  .gauge {
    grid-template-columns: minmax(0, 1fr) 76px 40px;
  }
}
</style>
