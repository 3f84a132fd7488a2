<script setup lang="ts">
import { computed } from 'vue'

import type { DeskView, Item } from '@/api/client'

/** Every field of an item, for the one that is being written. */
const props = defineProps<{
  item: Item
  desk: DeskView
  faults: Record<string, string>
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
const text = (field: string) => String((props.item as unknown as Record<string, unknown>)[field] ?? '')
const many = (field: string) =>
  ((props.item as unknown as Record<string, unknown>)[field] as string[] | undefined) ?? []

function write(field: string, value: string) {
  const required = ['id', 'challenge', 'response', 'why'].includes(field)
  emit('set', field, value === '' && !required ? undefined : value)
}
const lines = (field: string, value: string) => {
  const entries = value.split('\n').filter((e) => e !== '')
  emit('set', field, entries.length ? entries : undefined)
}
const places = computed(() => props.desk.type.cockpit ?? [])
const checks = computed(() => Object.keys(props.desk.type.limits).sort())
const timers = computed(() => (props.desk.type.durations ?? []).map((d) => d.id))
const elements = computed(() => Object.entries(props.desk.elements))
const multi = (field: string, event: Event) => {
  const chosen = Array.from((event.target as HTMLSelectElement).selectedOptions).map((o) => o.value)
  emit('set', field, chosen.length ? chosen : undefined)
}
</script>

<template>
  <div class="fields office">
    <label v-for="[field, label] in texts" :key="field" :class="{ wide: field === 'why' }">
      {{ label }}
      <input
        type="text"
        :name="field"
        :value="text(field)"
        :readonly="readonly"
        :aria-invalid="!!faults[field]"
        @input="write(field, ($event.target as HTMLInputElement).value)"
      />
      <span v-if="faults[field]" class="problem small">{{ faults[field] }}</span>
    </label>
    <label
      >Usual errors, one a line<textarea
        rows="2"
        name="errors"
        :readonly="readonly"
        :value="many('errors').join('\n')"
        @input="emit('set', 'errors', ($event.target as HTMLTextAreaElement).value.split('\n'))"
        @change="lines('errors', ($event.target as HTMLTextAreaElement).value)"
      ></textarea>
    </label>
    <label class="wide"
      >Only when
      <input
        class="mono"
        type="text"
        name="when"
        placeholder="always; or such as: oat &lt; 5 °C and not engine is hot"
        :value="text('when')"
        :readonly="readonly"
        :aria-invalid="!!faults.when"
        @input="write('when', ($event.target as HTMLInputElement).value)"
      />
      <span v-if="faults.when" class="problem small">{{ faults.when }}</span>
    </label>
    <div class="row">
      <label
        >Place
        <select
          :value="text('place')"
          :disabled="readonly"
          @change="write('place', ($event.target as HTMLSelectElement).value)"
        >
          <option value="">none</option>
          <option v-for="p in places" :key="p.id" :value="p.id">{{ p.label }}</option>
        </select>
      </label>
      <label
        >Measured check
        <select
          :value="text('check')"
          :disabled="readonly"
          @change="write('check', ($event.target as HTMLSelectElement).value)"
        >
          <option value="">none</option>
          <option v-for="c in checks" :key="c" :value="c">{{ c }}</option>
        </select>
        <span v-if="faults.check" class="problem small">{{ faults.check }}</span>
      </label>
      <label v-if="desk.type.engines > 1"
        >Engines
        <select
          :value="text('per')"
          :disabled="readonly"
          @change="write('per', ($event.target as HTMLSelectElement).value)"
        >
          <option value="">once for both</option>
          <option value="each">each, side by side</option>
          <option value="block">one after the other</option>
        </select>
      </label>
      <label class="tick"
        ><input
          type="checkbox"
          name="critical"
          :checked="item.critical"
          :disabled="readonly"
          @change="emit('set', 'critical', ($event.target as HTMLInputElement).checked || undefined)"
        />
        critical: left out, it ends the exercise</label
      >
    </div>
    <div class="row">
      <label v-if="item.check === 'gauges'"
        >Gauges
        <select multiple size="4" :disabled="readonly" @change="multi('gauges', $event)">
          <option
            v-for="g in desk.type.gauges"
            :key="g.id"
            :value="g.id"
            :selected="many('gauges').includes(g.id)"
          >
            {{ g.label }}
          </option>
        </select>
      </label>
      <label v-if="timers.length"
        >Timers
        <select multiple size="4" :disabled="readonly" @change="multi('timers', $event)">
          <option v-for="t in timers" :key="t" :value="t" :selected="many('timers').includes(t)">
            {{ t }}
          </option>
        </select>
      </label>
      <label
        >Must come before it
        <select multiple size="4" :disabled="readonly" @change="multi('after', $event)">
          <option v-for="b in before" :key="b.id" :value="b.id" :selected="many('after').includes(b.id)">
            {{ b.challenge }}
          </option>
        </select>
      </label>
      <label
        >Shows of the standard
        <select multiple size="4" :disabled="readonly" @change="multi('elements', $event)">
          <option
            v-for="[id, words] in elements"
            :key="id"
            :value="id"
            :selected="many('elements').includes(id)"
          >
            {{ words }}
          </option>
        </select>
      </label>
    </div>
    <label v-if="!item.elements?.length && !item.knowledge?.length" class="wide"
      >Why no standard names it
      <input
        type="text"
        name="noStandard"
        :value="text('noStandard')"
        :readonly="readonly"
        @input="write('noStandard', ($event.target as HTMLInputElement).value)"
      />
    </label>
    <p class="small soft wide">
      id <span class="mono">{{ item.id }}</span>
    </p>
  </div>
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

.row > label {
  flex: 1 1 160px;
}

.tick {
  align-self: center;
}

@media (max-width: 700px) {
  .fields {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
