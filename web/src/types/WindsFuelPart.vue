<script setup lang="ts">
import { computed } from 'vue'

import AppButton from '@/base/AppButton.vue'
import AppInput from '@/base/AppInput.vue'
import type { AircraftType } from '@/schema/schemas'
import { boxText, setter } from '@/shared/edit'
import { rules } from '@/rules/rules'
import OnOff from '@/shared/OnOff.vue'
import SearchSelect from '@/shared/SearchSelect.vue'
import { befores } from '@/shared/words'

/** Whether there are limits of wind, which tanks there are, and which readings are waited for. */
const props = defineProps<{
  type: AircraftType
  of: 'winds' | 'fuel' | 'minimums'
  readonly: boolean
}>()
const emit = defineEmits<{ change: [what: string, type: AircraftType] }>()
const set = setter(() => props.type, emit)
const said = {
  winds: [
    'Winds',
    'The largest cross wind that the maker has shown, and the tail wind it allows.',
    'The handbook gives them',
    'no winds after all',
  ],
  fuel: [
    'Which tanks there are',
    'With tanks and burn the fuel of a lesson is planned.',
    'Describe the tanks',
    'no tanks after all',
  ],
  minimums: ['Which readings are waited for', 'No more power before these are reached.', '', ''],
}
const there = computed(() => props.of === 'minimums' || !!props.type[props.of])
const have = (has: boolean) => emit('change', props.of, rules.have(props.type, props.of, has))
const tanks = computed(() => props.type.fuel?.tanks ?? [])
function addTank(e: Event) {
  const box = e.target as HTMLInputElement
  const label = box.value.trim()
  const id = rules.slug(label)
  if (!id || tanks.value.some((t) => t.id === id)) return
  set(['fuel', 'tanks'], [...tanks.value, { id, label, usableL: 0 }])
  box.value = ''
}
const without = <T,>(all: readonly T[], i: number) => all.filter((_, n) => n !== i)
/** One of two tanks is chosen: they are called left and right. */
const oneTank = (on: boolean) => set(['fuel', 'oneTank'], on || undefined)

const waits = computed(() => props.type.minimums ?? [])
const gauges = computed(() => props.type.gauges.map((g) => [g.id, g.label] as const))
const before = befores.map((b) => [b.id, `before ${b.words}`] as const)
function addWait(gauge: string) {
  const free = befores.find((b) => !waits.value.some((w) => w.gauge === gauge && w.before === b.id))
  if (gauge && free) set(['minimums'], [...waits.value, { gauge, before: free.id, value: 0 }])
}
</script>

<template>
  <section :aria-label="said[of][0]" class="which">
    <template v-if="!there">
      <h2>{{ said[of][0] }}</h2>
      <p class="soft">{{ said[of][1] }}</p>
      <AppButton v-if="!readonly" :data-action="`begin-${of}`" @click="have(true)">{{
        said[of][2]
      }}</AppButton>
    </template>
    <template v-else-if="of === 'fuel'">
      <h3 class="ruled">{{ said.fuel[0] }}</h3>
      <p v-for="(t, i) in tanks" :key="t.id" class="line" :data-tank="t.id">
        <AppInput
          type="text"
          :aria-label="`name of the tank ${t.label}`"
          :value="t.label"
          maxlength="40"
          :readonly="readonly"
          @input="set(['fuel', 'tanks', i, 'label'], boxText($event))"
        />
        <AppButton
          v-if="!readonly && tanks.length > 1"
          class="quiet"
          :aria-label="`${t.label}: take it away`"
          @click="set(['fuel', 'tanks'], without(tanks, i))"
        >
          ×
        </AppButton>
      </p>
      <AppInput
        v-if="!readonly"
        type="text"
        name="new-tank"
        placeholder="another tank: type its name, then Enter"
        maxlength="40"
        @change="addTank"
      />
      <OnOff
        :model-value="!!type.fuel?.oneTank"
        words="the engine is fed from one tank at a time, left or right, and the pilot chooses"
        name="one-tank"
        :disabled="readonly"
        @update:model-value="oneTank"
      />
    </template>
    <template v-else-if="of === 'minimums'">
      <h3 class="ruled">{{ said.minimums[0] }}</h3>
      <p v-if="!waits.length" class="soft">{{ said.minimums[1] }} None is waited for yet.</p>
      <p v-for="(w, i) in waits" :key="`${w.gauge} ${w.before}`" class="line" :data-wait="w.gauge">
        <b>{{ type.gauges.find((g) => g.id === w.gauge)?.label ?? w.gauge }}</b>
        <SearchSelect
          :model-value="w.before"
          :label="`what ${w.gauge} is waited for`"
          :options="before"
          :disabled="readonly"
          own
          @update:model-value="$event && set(['minimums', i, 'before'], $event)"
        />
        <AppButton
          v-if="!readonly"
          class="quiet"
          :aria-label="`${w.gauge}: not waited for`"
          @click="set(['minimums'], without(waits, i))"
        >
          ×
        </AppButton>
      </p>
      <SearchSelect
        v-if="!readonly"
        model-value=""
        name="new-minimum"
        label="another reading to wait for"
        :options="gauges"
        none="another reading to wait for"
        @update:model-value="addWait(String($event))"
      />
    </template>
    <AppButton
      v-if="there && of !== 'minimums' && !readonly"
      class="quiet"
      :data-action="`end-${of}`"
      @click="have(false)"
    >
      {{ said[of][3] }}
    </AppButton>
  </section>
</template>

<style scoped>
.which {
  display: grid;
  gap: 8px;
  padding-top: 12px;
  justify-items: start;
}

h2 {
  font-size: 22px;
  font-weight: 700;
}

h3 {
  justify-self: stretch;
}

.line {
  display: flex;
  gap: 8px;
  align-items: center;
  justify-self: stretch;
}

.line > :first-child {
  flex: 1;
}

.which > input {
  justify-self: stretch;
}
</style>
