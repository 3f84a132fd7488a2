<script setup lang="ts">
import { computed, reactive, ref, shallowRef, watch } from 'vue'

import AppButton from '@/base/AppButton.vue'
import AppInput from '@/base/AppInput.vue'
import type { DeskView, Flown, Layer, List } from '@/schema/schemas'
import FlownList from '@/lists/FlownList.vue'
import { ready, RuleError, rules } from '@/rules/rules'
import OnOff from '@/shared/OnOff.vue'
import ProblemNotice from '@/shared/ProblemNotice.vue'
import SearchSelect from '@/shared/SearchSelect.vue'
import TickList from '@/shared/TickList.vue'
import { useSession } from '@/shared/session'
import { engineStates, flightRules, fresh } from '@/shared/words'
import { inWords } from '@/shared/errors'

/** The list as it would be flown on a day that one chooses. */
const props = defineProps<{ list: List; layers: Layer[]; desk: DeskView }>()
const day = reactive({
  ...fresh.flown,
  exercises: [] as string[],
})
const equipment = ref<string[]>([])
const order = ref(false) // the other start order
const show = ref<'layers' | 'day' | 'all'>('layers')
const off = ref<string[]>([]) // layers left out
const on = computed({
  get: () => props.layers.map((l) => l.id).filter((id) => !off.value.includes(id)),
  set: (ids) => (off.value = props.layers.map((l) => l.id).filter((id) => !ids.includes(id))),
})
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
    problem.value = inWords(e)
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
const same = (values: readonly string[]) => values.map((v) => [v, v] as const)
const states = [
  ['night', 'light', same(['day', 'night'])],
  ['rules', 'rules', same(flightRules)],
  ['engineState', 'engine', same(engineStates)],
  ['firstFlight', 'first flight', same(['yes', 'no'])],
] as const
const { units } = useSession().current!
/** A usual day at the home field, in the reader's units. */
void ready('rules').then(() => {
  const typed = (words: string) => rules.say(words).split(' ')[0]!
  Object.assign(day, {
    fuelMethod: props.desk.policy.fuelMethod,
    skips: props.desk.policy.skips,
    breakers: props.desk.policy.breakers,
    oat: typed('12 °C'),
    wind: typed('8 kt'),
    elevation: typed('412 ft'),
    qnh: typed('1013 hPa'),
  })
})
const numbers = [
  ['oat', `air, ${units.temperature}`],
  ['dew', `dew point, ${units.temperature}`],
  ['wind', `wind, ${units.speed}`],
  ['gust', `gusts, ${units.speed}`],
  ['elevation', `elevation, ${units.height}`],
  ['qnh', `setting, ${units.pressure}`],
] as const
</script>

<template>
  <div>
    <div class="day office">
      <label v-for="[field, label] in numbers" :key="field"
        >{{ label }}
        <AppInput
          v-model="day[field]"
          type="text"
          inputmode="decimal"
          :name="`day-${field}`"
          :aria-invalid="wrong === field"
      /></label>
      <label v-for="[field, label, options] in states" :key="field"
        >{{ label }} <SearchSelect v-model="day[field]" :name="`day-${field}`" :options="options"
      /></label>
      <OnOff v-if="desk.type.engines > 1" v-model="order" name="order" words="the other engine first" />
      <TickList v-model="equipment" label="Equipment" :options="optional.map((e) => [e.id, e.label])" />
      <TickList
        v-model="day.exercises"
        label="Exercises"
        :options="desk.exercises.map((e) => [e.id, e.label])"
      />
    </div>
    <p v-if="layers.length" class="day small">
      Layers:
      <TickList v-model="on" label="Layers" :options="layers.map((l) => [l.id, l.title])" />
    </p>
    <ProblemNotice v-model="problem" />
    <template v-if="flown">
      <p class="soft sum">
        {{ counts }}.
        <span class="show">
          <AppButton
            v-for="[key, words] in shows"
            :key="key"
            :class="['quiet', { on: show === key }]"
            :aria-pressed="show === key"
            :data-show="key"
            @click="show = key"
          >
            {{ words }}
          </AppButton>
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

.day > label {
  width: 92px;
  font-size: 13px;
  color: var(--soft);
}

.sum {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 18px;
  align-items: center;
}
</style>
