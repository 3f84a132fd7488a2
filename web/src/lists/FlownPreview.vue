<script setup lang="ts">
import { computed, reactive, ref, shallowRef, watch } from 'vue'

import type { DeskView, Layer, List } from '@/api/client'
import FlownList from '@/lists/FlownList.vue'
import { RuleError, rules, type Flown } from '@/rules/rules'
import { engineStates, flightRules, fresh } from '@/shared/words'

/** The list as it would be flown on a day that one chooses. */
const props = defineProps<{ list: List; layers: Layer[]; desk: DeskView }>()
const day = reactive({
  ...fresh.flown,
  exercises: [] as string[],
  oat: '12',
  wind: '8',
  elevation: '412',
  qnh: '1013',
})
const equipment = ref<string[]>([])
const order = ref(false) // the other start order
const show = ref<'layers' | 'day' | 'all'>('layers')
const off = ref<string[]>([]) // layers left out
const flown = shallowRef<Flown | null>(null)
const problem = ref('')
const wrong = ref('')

const optional = computed(() => props.desk.type.equipment.filter((e) => e.optional))
const startOrder = computed(() => {
  const own = props.desk.type.startOrder
  return own?.length ? (order.value ? [...own].reverse() : own) : undefined
})
let waiting: ReturnType<typeof setTimeout> | undefined
watch(
  [() => props.list, () => props.layers, day, equipment, order, off],
  () => {
    clearTimeout(waiting)
    waiting = setTimeout(() => void tailor(), 120)
  },
  { immediate: true, deep: false },
)

async function tailor() {
  wrong.value = ''
  try {
    const of = {
      list: props.list,
      layers: props.layers.filter((l) => !off.value.includes(l.id)),
      type: props.desk.type,
      aircraft: { equipment: equipment.value, startOrder: startOrder.value },
    }
    flown.value = await rules.tailor(of, day)
    problem.value = ''
  } catch (e) {
    problem.value = e instanceof Error ? e.message : String(e)
    if (e instanceof RuleError) wrong.value = e.field
  }
}
const counts = computed(() => {
  const n = (kind: string) => flown.value?.reasons.filter((r) => r.kind === kind).length ?? 0
  return `${flown.value?.list.phases.reduce((s, p) => s + p.items.length, 0) ?? 0} items: ${n('added')} added, ${n('changed')} changed, ${n('dropped')} left off, ${n('included')} because of the day`
})
const shows = [
  ['layers', 'what layers change'],
  ['day', 'all that differs'],
  ['all', 'every item'],
] as const
const numbers = [
  ['oat', 'air, °C'],
  ['dew', 'dew point, °C'],
  ['wind', 'wind, kt'],
  ['gust', 'gusts, kt'],
  ['elevation', 'elevation, ft'],
  ['qnh', 'setting, hPa'],
] as const
</script>

<template>
  <div>
    <div class="day office">
      <label v-for="[field, label] in numbers" :key="field"
        >{{ label }}
        <input
          v-model="day[field]"
          type="text"
          inputmode="decimal"
          :name="`day-${field}`"
          :aria-invalid="wrong === field"
      /></label>
      <label
        >light
        <select v-model="day.night" name="day-night">
          <option value="day">day</option>
          <option value="night">night</option>
        </select>
      </label>
      <label
        >rules
        <select v-model="day.rules">
          <option v-for="r in flightRules" :key="r">{{ r }}</option>
        </select>
      </label>
      <label
        >engine
        <select v-model="day.engineState">
          <option v-for="s in engineStates" :key="s">{{ s }}</option>
        </select>
      </label>
      <label
        >first flight
        <select v-model="day.firstFlight">
          <option>yes</option>
          <option>no</option>
        </select>
      </label>
      <label v-if="desk.type.engines > 1" class="tick"
        ><input v-model="order" type="checkbox" /> the other engine first</label
      >
      <label v-for="e in optional" :key="e.id" class="tick"
        ><input v-model="equipment" type="checkbox" :value="e.id" /> {{ e.label }}</label
      >
      <label v-for="e in desk.exercises" :key="e.id" class="tick soft"
        ><input v-model="day.exercises" type="checkbox" :value="e.id" /> {{ e.label }}</label
      >
    </div>
    <p v-if="layers.length" class="day small">
      Layers:
      <label v-for="l in layers" :key="l.id" class="tick"
        ><input
          type="checkbox"
          :checked="!off.includes(l.id)"
          @change="off = off.includes(l.id) ? off.filter((o) => o !== l.id) : [...off, l.id]"
        />
        {{ l.title }}</label
      >
    </p>
    <p v-if="problem" class="problem" role="alert">{{ problem }}</p>
    <template v-if="flown">
      <p class="soft sum">
        {{ counts }}.
        <span class="show">
          <button
            v-for="[key, words] in shows"
            :key="key"
            :class="['quiet', { on: show === key }]"
            :aria-pressed="show === key"
            :data-show="key"
            @click="show = key"
          >
            {{ words }}
          </button>
        </span>
      </p>
      <FlownList :flown="flown" :printed="list" :show="show" />
    </template>
  </div>
</template>

<style scoped>
.day {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 14px;
  align-items: end;
  margin-bottom: 8px;
}

.day > label:not(.tick) {
  width: 92px;
  font-size: 13px;
  color: var(--soft);
}

.tick {
  display: inline-flex;
  gap: 6px;
  align-items: center;
  min-height: 34px;
}

.sum {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 18px;
  align-items: center;
}
</style>
