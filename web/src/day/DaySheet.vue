<script setup lang="ts">
import { computed, onMounted, reactive, ref, shallowRef, watch } from 'vue'
import { useRoute } from 'vue-router'

import { api, take } from '@/api/client'
import AppButton from '@/base/AppButton.vue'
import AppInput from '@/base/AppInput.vue'
import AppText from '@/base/AppText.vue'
import type { AircraftType, Calculators, Schemas } from '@/schema/schemas'
import { ready, rules } from '@/rules/rules'
import BriefHeard from '@/day/BriefHeard.vue'
import DayLines from '@/day/DayLines.vue'
import RunwayChoice from '@/day/RunwayChoice.vue'
import ChoiceRow from '@/shared/ChoiceRow.vue'
import OnOff from '@/shared/OnOff.vue'
import SearchRow from '@/shared/SearchRow.vue'
import ProblemNotice from '@/shared/ProblemNotice.vue'
import TopBar from '@/shared/TopBar.vue'
import { useSession } from '@/shared/session'
import { engineStates, fresh } from '@/shared/words'
import { useTrying } from '@/shared/trying'

/** The day on one sheet: each number computed, each with where it comes from. */
const fleet = shallowRef<Schemas['AircraftDay'][]>([])
const tools = shallowRef<Calculators | null>(null)
const type = shallowRef<AircraftType | null>(null)
const station = shallowRef<Schemas['StationView'] | null>(null)
const { problem, tried } = useTrying()
const registration = ref('')
const typed = reactive<Schemas['CalcTypedDay']>({ ...fresh.day, own: {} })
/** The next lesson: on its aircraft its people fly and read, until others are typed. */
const next = shallowRef<Schemas['NextLesson'] | null>(null)
function people(registration: string) {
  const flown = next.value?.registration === registration
  for (const [field, name] of [
    ['flies', next.value?.student],
    ['reads', next.value?.instructor],
  ] as const) {
    const first = name?.split(' ')[0] ?? ''
    if (!typed[field] || typed[field] === first) typed[field] = flown ? first : ''
  }
}
const copying = ref(false)
const session = useSession().current!
const { units } = session
const route = useRoute()

onMounted(() =>
  tried(async () => {
    const [today, data] = await Promise.all([
      take(api.GET('/api/v1/today')),
      take(api.GET('/api/v1/calculators')),
      ready(),
    ])
    Object.assign(typed, rules.fresh())
    fleet.value = today.aircraft
    tools.value = data
    next.value = today.next ?? null
    registration.value = String(
      route.query.aircraft ?? today.next?.registration ?? today.aircraft[0]?.registration ?? '',
    )
  }),
)
const aircraft = computed(() => fleet.value.find((a) => a.registration === registration.value))
const field = computed(() => tools.value?.aerodromes.find((a) => a.id === aircraft.value?.base))
watch(aircraft, (a) =>
  tried(async () => {
    if (!a) return
    const desk = await take(api.GET('/api/v1/desk/{type}', { params: { path: { type: a.type } } }))
    if (aircraft.value !== a) return
    type.value = desk.type
    typed.fuelMethod = desk.policy.fuelMethod
    typed.turnBack = desk.policy.turnBack
    people(a.registration)
    typed.runway = ''
    typed.own = {}
  }),
)

/** The report of the field is at hand, until another is typed. */
watch(field, (f) => {
  if (f && (!typed.report || typed.report === station.value?.report)) void simulated()
})
const simulated = () =>
  tried(async () => {
    station.value = await take(api.GET('/api/v1/station/{id}', { params: { path: { id: field.value!.id } } }))
    typed.report = copying.value ? '' : station.value.report
  })

/** Reads the station's broadcast aloud, where the device can speak. */
function speak() {
  const words = new SpeechSynthesisUtterance(station.value!.broadcast)
  words.rate = 0.95
  speechSynthesis.cancel()
  speechSynthesis.speak(words)
}

const sheet = computed(() =>
  type.value && field.value
    ? rules.day(typed, type.value, aircraft.value!.equipment, field.value, tools.value!.icing)
    : null,
)
const sentences = computed(() => sheet.value?.sentences ?? [])
const engines = engineStates.map((s) => [s, s])
const print = () => window.print()
</script>

<template>
  <div>
    <TopBar>
      <b>The day</b>
      <span v-if="field" class="soft"
        >{{ field.name }}, {{ field.id }}, {{ rules.say(`${field.elevationFt} ft`) }}</span
      >
      <template #side><AppButton class="quiet" @click="print">Print</AppButton></template>
    </TopBar>
    <ProblemNotice v-model="problem" />
    <main v-if="sheet">
      <section class="given">
        <SearchRow
          v-model="registration"
          name="Aircraft"
          :near="3"
          :choices="fleet.map((a) => [a.registration, `${a.registration} ${a.typeName}`])"
        />
        <label class="report"
          >Weather report, pasted or typed
          <AppText
            v-model="typed.report"
            rows="2"
            name="report"
            spellcheck="false"
            placeholder="METAR XTHW …"
          />
        </label>
        <p class="station">
          <AppButton data-action="station" :disabled="!field" @click="simulated">
            Take the practice station
          </AppButton>
          <OnOff v-model="copying" name="copying" words="read aloud only: I copy it down" />
          <template v-if="station">
            <AppButton class="quiet" data-action="speak" @click="speak">Read it aloud</AppButton>
            <span v-if="copying" class="soft" data-part="broadcast">{{ station.broadcast }}</span>
            <span v-if="copying || typed.report === station.report" class="attend small"
              >▲ {{ station.note }}</span
            >
          </template>
        </p>
        <p v-if="sheet.wrong.metar" class="problem" data-wrong="metar">{{ sheet.wrong.metar }}</p>
        <ChoiceRow v-if="sheet.asks.engine" v-model="typed.engineState" name="Engine" :choices="engines" />
        <div class="fields">
          <label
            >Student’s crosswind, {{ units.speed }}
            <AppInput v-model="typed.studentCross" type="text" inputmode="decimal" name="student-cross"
          /></label>
          <template v-if="sheet.asks.tanks">
            <label
              >Fuel left, {{ units.volume }}
              <AppInput v-model="typed.left" type="text" inputmode="decimal" name="left"
            /></label>
            <label
              >Fuel right, {{ units.volume }}
              <AppInput v-model="typed.right" type="text" inputmode="decimal" name="right"
            /></label>
          </template>
          <label
            >{{ sheet.asks.run }}, {{ units.length }}
            <AppInput v-model="typed.run" type="text" inputmode="decimal" name="run"
          /></label>
          <label
            >{{ sheet.asks.over50 }}, {{ units.length }}
            <AppInput v-model="typed.over50" type="text" inputmode="decimal" name="over50"
          /></label>
          <label v-if="sheet.asks.hoverPower"
            >Power for the hover <AppInput v-model="typed.power" type="text" inputmode="decimal" name="power"
          /></label>
          <label
            >Turn back from, {{ units.height }}
            <AppInput
              v-model="typed.turnBack"
              type="text"
              inputmode="decimal"
              name="turn-back"
              placeholder="never"
          /></label>
          <label>Who flies <AppInput v-model="typed.flies" type="text" name="flies" /></label>
          <label>Who reads the list <AppInput v-model="typed.reads" type="text" name="shoots" /></label>
        </div>
        <p
          v-for="(why, name) in sheet.wrong"
          v-show="name !== 'metar'"
          :key="name"
          class="problem"
          :data-wrong="name"
        >
          {{ why }}
        </p>
        <p
          v-for="a in sheet.advice"
          :key="a.code + a.message"
          :class="['small', a.beside ? 'soft' : 'attend']"
        >
          {{ a.beside ? '' : '▲ ' }}{{ a.message }}
        </p>
      </section>
      <section class="sheet" aria-label="The day computed">
        <p v-if="!sheet.lines.length" class="soft">The sheet fills as soon as there is a report.</p>
        <DayLines v-else :lines="sheet.lines" :own="typed.own" @own="(id, text) => (typed.own[id] = text)" />
        <RunwayChoice
          v-if="sheet.runways.length"
          :runways="sheet.runways"
          :on="sheet.runway"
          @choose="typed.runway = $event"
        />
        <p v-if="sheet.nose" class="soft">{{ sheet.nose }}</p>
        <BriefHeard v-if="sentences.length" v-model="typed.said" :sentences="sentences" />
        <p class="soft small">
          Computed from what was given. The handbook’s own tables and the licensed person decide.
        </p>
      </section>
    </main>
  </div>
</template>

<style scoped>
main {
  display: grid;
  grid-template-columns: minmax(0, 5fr) minmax(0, 7fr);
  gap: 28px;
  padding: 10px 24px 32px;
}

.report {
  display: block;
  margin: 8px 0;
}

textarea {
  font: 16px var(--figures);
}

.station {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 14px;
  align-items: center;
}

.station > button {
  min-height: 44px;
}

.fields {
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr));
  gap: 8px 14px;
  margin: 8px 0;
}

.fields input {
  padding: 8px 10px;
}

.given :deep(fieldset) {
  grid-template-columns: 80px minmax(0, 1fr);
}

.given :deep(.choices button) {
  min-height: 36px;
  padding: 2px 9px;
  font-size: 14px;
}

.problem {
  margin: 4px 0;
}

@media (max-width: 1000px) {
  main {
    grid-template-columns: minmax(0, 1fr);
    padding: 8px 12px 24px;
  }

  .fields {
    grid-template-columns: 1fr 1fr;
  }
}
</style>
