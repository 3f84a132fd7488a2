<script setup lang="ts">
import { computed, onMounted, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import AppButton from '@/base/AppButton.vue'
import AppCheck from '@/base/AppCheck.vue'
import AppInput from '@/base/AppInput.vue'
import type { Schemas } from '@/schema/schemas'
import { useLesson } from '@/lesson/lesson'
import FlownList from '@/lists/FlownList.vue'
import ChoiceRow from '@/shared/ChoiceRow.vue'
import SearchRow from '@/shared/SearchRow.vue'
import TickList from '@/shared/TickList.vue'
import TopBar from '@/shared/TopBar.vue'
import { useSession } from '@/shared/session'
import { count, engineStates, methodWords, purposeWords, timeWords, dayIn, fullDay } from '@/shared/words'
import { useChoosing } from './choosing'
import ReportBox from './ReportBox.vue'

const me = useSession().current!
const lesson = useLesson()
const router = useRouter()
const route = useRoute()
const choosing = useChoosing()
const { briefing, desk, flown, problem, wrong, choice, day, paper, mayWriteDown, aircraft, list } = choosing
const { takeReport } = choosing
const busy = ref(false)

onMounted(async () => {
  await choosing.begin()
  planned.value = String(route.query.booking ?? '')
})

/** A planned lesson says who, on what and what for. */
const mine = computed(() =>
  (briefing.value?.planned ?? []).filter((p) => p.instructorId === me.account && !p.lesson),
)
const plannedChoices = computed(() =>
  mine.value.slice(0, 3).map((p) => {
    const on = dayIn(p.startsAt, me.zone)
    const which = on === me.today ? '' : `${fullDay(on).split(' ')[0]} `
    return [p.id, `${which}${timeWords(p.startsAt, me.zone)} ${p.student}, ${p.registration}`]
  }),
)
const planned = ref('')
watch(planned, (id) => {
  const p = mine.value.find((b) => b.id === id)
  if (p) choosing.takePlanned(p)
})

/** The students, those who train on the aircraft's type first. */
const fitting = computed(() => {
  const fits = (s: Schemas['StoreStudent']) => (desk.value?.students.includes(s.id) ? 0 : 1)
  return (briefing.value?.students ?? []).toSorted((a, b) => fits(a) - fits(b))
})
/** Those flown with last stand in sight; anybody is found by typing. */
const whoAndWhat = computed(() => [
  { field: 'student' as const, name: 'Student', choices: fitting.value.map((s) => [s.id, s.name]) },
  {
    field: 'aircraft' as const,
    name: 'Aircraft',
    choices: briefing.value!.aircraft.map((a) => [
      a.registration,
      `${a.registration} ${a.typeName}${a.grounded ? ', ■ on the ground' : ''}`,
    ]),
  },
])
const orders = computed(() => {
  const own = desk.value?.type.startOrder ?? []
  const name = (n: number) => `${desk.value!.type.engineNames?.[n - 1] ?? n} first`
  return own.length ? [own, [...own].reverse()].map((o) => [o.join(','), name(o[0]!)]) : []
})
const different = computed(() => flown.value?.reasons.filter((r) => r.kind !== 'included').length ?? 0)

/** The boxes of runway, weather and, where the pilot chooses the tank, fuel. */
const boxes = computed(() => {
  const { temperature, pressure, volume } = me.units
  const fuel = desk.value?.type.fuel?.oneTank
    ? [
        { of: choice, field: 'fuelLeft', name: 'fuel-left', label: `Fuel left, ${volume}`, like: '' },
        { of: choice, field: 'fuelRight', name: 'fuel-right', label: `Fuel right, ${volume}`, like: '' },
      ]
    : []
  return [
    { of: choice, field: 'runway', name: 'runway', label: 'Runway', like: '20', words: true },
    { of: choice, field: 'wind', name: 'wind', label: 'Wind, degrees/knots', like: '190/11G18', words: true },
    { of: day, field: 'oat', name: 'oat', label: `Outside air, ${temperature}`, like: '' },
    { of: day, field: 'dew', name: 'dew', label: `Dew point, ${temperature}`, like: '' },
    { of: day, field: 'qnh', name: 'qnh', label: `Altimeter setting, ${pressure}`, like: '' },
    ...fuel,
  ] as { of: object; field: string; name: string; label: string; like: string; words?: boolean }[]
})

async function open() {
  busy.value = true
  await choosing.open(async (payload, serving, known) => {
    await router.push(`/lessons/${await lesson.open(payload, serving, known)}`)
  })
  busy.value = false
}
const same = (all: string[]) => all.map((a) => [a, a])
const pairs = (...all: string[]) => all.map((a) => a.split('|'))
</script>

<template>
  <div>
    <TopBar><b>Open a lesson</b> <span class="soft">everything here goes into the record</span></TopBar>
    <form v-if="briefing" class="brief" novalidate @submit.prevent="open">
      <div>
        <ChoiceRow v-if="mine.length" v-model="planned" name="Planned" :choices="plannedChoices" />
        <SearchRow
          v-for="row in whoAndWhat"
          :key="row.field"
          v-model="choice[row.field]"
          :name="row.name"
          :choices="row.choices"
        />
        <p v-if="aircraft?.findings.length" class="attend note">
          ▲ {{ aircraft.registration }} has {{ count(aircraft.findings.length, 'open finding') }}:
          {{ aircraft.findings[0]!.words }}
        </p>
        <ChoiceRow
          v-if="desk && desk.lists.length > 1"
          v-model="choice.list"
          name="List"
          :choices="desk.lists.map((l) => [l.id, `${l.title}, v${l.version}`])"
        />
        <ChoiceRow v-if="orders.length" v-model="choice.order" name="Start order" :choices="orders" />
        <ChoiceRow
          v-model="choice.method"
          name="Method"
          :choices="briefing.methods.map((m) => [m, methodWords[m] ?? m])"
        />
        <ChoiceRow
          v-model="choice.scale"
          name="Scale"
          :choices="briefing.scales.map((s) => [s.id, s.title])"
        />
        <ChoiceRow
          v-model="choice.purpose"
          name="For"
          :choices="briefing.purposes.map((p) => [p, purposeWords[p] ?? p])"
        />
        <div v-if="mayWriteDown" class="paper" data-part="paper">
          <label class="tick"
            ><AppCheck v-model="paper.on" name="on-paper" /> it was kept on paper, and is written down
            now</label
          >
          <template v-if="paper.on">
            <label
              >Its day <AppInput v-model="paper.day" type="date" name="paper-day" :max="me.today"
            /></label>
            <label>Off, as read <AppInput v-model="paper.from" type="time" name="paper-off" /></label>
            <label>On, as read <AppInput v-model="paper.to" type="time" name="paper-on" /></label>
          </template>
        </div>
        <div class="pairs">
          <ChoiceRow v-model="day.engineState" name="Engine" :choices="same(engineStates)" />
          <ChoiceRow
            v-model="day.firstFlight"
            name="First flight"
            :choices="pairs('yes|of the day', 'no|no')"
          />
          <ChoiceRow v-model="day.rules" name="Rules" :choices="pairs('VFR|visual', 'IFR|instrument')" />
          <ChoiceRow v-model="day.night" name="Light" :choices="pairs('day|day', 'night|night')" />
        </div>
        <fieldset v-if="desk" class="exercises">
          <legend class="soft">Exercises</legend>
          <TickList
            v-model="day.exercises"
            label="Exercises"
            :options="desk.exercises.map((e) => [e.id, e.label])"
          />
        </fieldset>
        <ReportBox :briefing="briefing" :base="aircraft?.base" @read="takeReport" />
        <div class="fields">
          <label v-for="b in boxes" :key="b.field"
            >{{ b.label }}
            <AppInput
              v-model="(b.of as Record<string, string>)[b.field]"
              type="text"
              :inputmode="b.words ? 'text' : 'decimal'"
              :name="b.name"
              :placeholder="b.like"
              :aria-invalid="wrong === b.field"
          /></label>
        </div>
      </div>
      <div class="today">
        <p v-if="problem" class="problem" role="alert">{{ problem }}</p>
        <AppButton class="primary" type="submit" :disabled="busy || (!!aircraft && !desk)">
          Open the lesson
        </AppButton>
        <details v-if="flown && list" class="preview" open>
          <summary data-part="preview">
            <b>{{ list.title }}, version {{ list.version }}</b
            >, {{ flown.list.phases.reduce((n, p) => n + p.items.length, 0) }} items today;
            {{ different }} differ from the printed list<span v-if="flown.layers.length" class="soft"
              >, with {{ flown.layers.map((l) => l.title).join('; ') }}</span
            >
          </summary>
          <FlownList :flown="flown" :printed="list" show="day" />
        </details>
        <p v-else class="soft">Choose the aircraft: the list as it is flown today stands here.</p>
      </div>
    </form>
    <p v-else-if="problem" class="problem" role="alert">{{ problem }}</p>
  </div>
</template>

<style scoped>
.brief {
  display: grid;
  grid-template-columns: minmax(0, 8fr) minmax(0, 5fr);
  gap: 0 28px;
  padding: 12px 24px 24px;
}

.today {
  position: sticky;
  top: 8px;
  align-self: start;
  max-height: calc(100dvh - 76px);
  overflow: hidden auto;
}

@media (max-width: 1000px) {
  .brief {
    grid-template-columns: minmax(0, 1fr);
  }

  .today {
    position: static;
    max-height: none;
  }
}

.note {
  padding: 0 0 8px 120px;
}

.brief :deep(fieldset) {
  grid-template-columns: 92px minmax(0, 1fr);
  padding: 4px 0;
}

.brief :deep(.choices) {
  gap: 6px;
}

.brief :deep(.choices button) {
  padding: 4px 11px;
  min-height: 40px;
}

.fields {
  display: grid;
  grid-template-columns: repeat(5, minmax(0, 1fr));
  gap: 16px;
  margin: 12px 0;
}

.fields input {
  font-size: 18px;
  margin-top: 4px;
}

.pairs {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 0 24px;
}

.exercises {
  border: 0;
  margin: 0;
  padding: 8px 0;
  display: flex;
  flex-wrap: wrap;
  gap: 6px 18px;
  border-bottom: 1px solid var(--fine);
}

.exercises legend {
  float: left;
  width: 120px;
  padding: 0;
}

.paper {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px 16px;
  margin: 8px 0;
}

.preview {
  margin-top: 16px;
}

.preview summary {
  cursor: pointer;
  padding: 6px 0;
}

.primary {
  width: 100%;
  min-height: 72px;
  font-size: 22px;
  margin-top: 8px;
}

@media (max-width: 700px) {
  .brief {
    padding: 8px 12px;
  }

  .fields {
    grid-template-columns: 1fr 1fr;
  }

  .pairs {
    grid-template-columns: minmax(0, 1fr);
  }

  .note {
    padding-left: 0;
  }
}
</style>
