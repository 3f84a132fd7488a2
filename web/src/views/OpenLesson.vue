<script setup lang="ts">
import { computed, onMounted, reactive, ref, shallowRef, watch } from 'vue'
import { useRouter } from 'vue-router'

import { api, Refused, take, type Briefing, type DeskView } from '../api/client'
import ChoiceRow from '../parts/ChoiceRow.vue'
import FlownList from '../parts/FlownList.vue'
import TopBar from '../parts/TopBar.vue'
import { dayOf, freshDay, WrongField } from '../parts/day'
import { rules, type Flown } from '../rules/rules'
import { useOutbox, uuidv7 } from '../stores/outbox'
import { useSession } from '../stores/session'
import { methodWords, purposeWords } from '../words'

const session = useSession()
const outbox = useOutbox()
const router = useRouter()
const briefing = ref<Briefing | null>(null)
const desk = shallowRef<DeskView | null>(null)
const flown = shallowRef<Flown | null>(null)
const problem = ref('')
const wrong = ref('')
const busy = ref(false)
const choice = reactive({
  student: '',
  aircraft: '',
  list: '',
  method: 'read-and-do',
  scale: 'independence',
  purpose: 'training',
  runway: '',
  wind: '',
  order: '',
})
const day = reactive(freshDay())

onMounted(async () => {
  try {
    briefing.value = await take(api.GET('/api/v1/briefing'))
  } catch (e) {
    problem.value = e instanceof Refused ? e.message : String(e)
  }
})

const aircraft = computed(() => briefing.value?.aircraft.find((a) => a.registration === choice.aircraft))
watch(aircraft, async (a) => {
  desk.value = flown.value = null
  choice.list = choice.order = ''
  if (!a) return
  try {
    const d = await take(api.GET('/api/v1/desk/{type}', { params: { path: { type: a.type } } }))
    if (aircraft.value !== a) return
    desk.value = d
    choice.list = d.lists[0]?.id ?? ''
    choice.order = (d.type.startOrder ?? []).join(',')
  } catch (e) {
    problem.value = e instanceof Refused ? e.message : String(e)
  }
})
const list = computed(() => desk.value?.lists.find((l) => l.id === choice.list))
const startOrder = computed(() => (choice.order ? choice.order.split(',').map(Number) : undefined))
const orders = computed(() => {
  const own = desk.value?.type.startOrder ?? []
  const name = (n: number) => `${desk.value!.type.engineNames?.[n - 1] ?? n} first`
  return own.length ? [own, [...own].reverse()].map((o) => [o.join(','), name(o[0]!)]) : []
})

/** The students, those who train for the aircraft's class first. */
const fitting = computed(() => {
  const all = briefing.value?.students ?? []
  const t = desk.value?.type
  if (!t) return all
  const fits = (s: (typeof all)[number]) =>
    s.class === t.class && s.engineKind === t.engineKind && s.startType === t.startType
  return [...all.filter(fits), ...all.filter((s) => !fits(s))]
})

/** The day as typed, with the wind that the lesson names. */
function typedDay() {
  const wind = /^(?:\d{1,3}|VRB)\/(\d{1,2})(?:G(\d{1,2}))?$/.exec(choice.wind.trim())
  if (choice.wind.trim() && !wind)
    throw new WrongField('wind', `“${choice.wind}” is not a wind; write it like 190/11, 190/11G18 or VRB/3.`)
  return dayOf({
    ...day,
    wind: wind?.[1] ?? '',
    gust: wind?.[2] ?? '',
    elevation: String(aircraft.value?.elevationFt ?? ''),
  })
}

let waiting: ReturnType<typeof setTimeout> | undefined
watch([list, day, () => choice.wind, startOrder], () => {
  clearTimeout(waiting)
  waiting = setTimeout(() => void tailor().catch(say), 150)
})

/** The list as flown today, by the rules in this browser. */
async function tailor(): Promise<Flown | null> {
  problem.value = wrong.value = ''
  if (!list.value || !desk.value || !aircraft.value) return null
  flown.value = await rules.tailor({
    list: list.value,
    layers: desk.value.layers,
    type: desk.value.type,
    aircraft: { equipment: aircraft.value.equipment, startOrder: startOrder.value },
    day: typedDay(),
  })
  return flown.value
}
const different = computed(() => flown.value?.reasons.filter((r) => r.kind !== 'included').length ?? 0)

function say(e: unknown) {
  problem.value = e instanceof Error ? e.message : String(e)
  if (e instanceof WrongField) wrong.value = e.field
}

async function open() {
  problem.value = wrong.value = ''
  busy.value = true
  try {
    if (!choice.student) throw new WrongField('student', 'Choose the student.')
    if (!aircraft.value) throw new WrongField('aircraft', 'Choose the aircraft.')
    const tailored = await tailor()
    if (!tailored) throw new WrongField('aircraft', 'No checklist is in force for this aircraft.')
    const weather = typedDay()
    const id = uuidv7()
    await outbox.openNow(id, [
      {
        kind: 'lesson-opened',
        payload: {
          student: choice.student,
          instructor: session.current!.account,
          aircraft: choice.aircraft,
          aircraftType: desk.value!.type.id,
          typeVersion: desk.value!.type.version,
          list: list.value!.id,
          listVersion: list.value!.version,
          method: choice.method,
          scale: choice.scale,
          purpose: choice.purpose,
          runway: choice.runway.trim(),
          wind: choice.wind.trim(),
          conditions: {
            rules: weather.rules,
            night: weather.night,
            engineState: weather.engineState,
            elevationFt: aircraft.value.elevationFt,
            oatC: weather.oatC,
            qnhHPa: weather.qnhHPa,
            date: new Date().toISOString().slice(0, 10),
          },
          equipment: aircraft.value.equipment,
          day: weather,
          flown: tailored,
        },
      },
    ])
    await router.push(`/lessons/${id}`)
  } catch (e) {
    say(e)
  } finally {
    busy.value = false
  }
}
const pairs = (...all: string[]) => all.map((a) => a.split('|'))
</script>

<template>
  <div>
    <TopBar><b>Open a lesson</b> <span class="soft">everything here goes into the record</span></TopBar>
    <form v-if="briefing" class="brief" novalidate @submit.prevent="open">
      <div>
        <ChoiceRow v-model="choice.student" name="Student" :choices="fitting.map((s) => [s.id, s.name])" />
        <ChoiceRow
          v-model="choice.aircraft"
          name="Aircraft"
          :choices="briefing.aircraft.map((a) => [a.registration, `${a.registration} ${a.typeName}`])"
        />
        <p v-if="aircraft?.findings.length" class="attend note">
          ▲ {{ aircraft.registration }} has {{ aircraft.findings.length }} open finding{{
            aircraft.findings.length > 1 ? 's' : ''
          }}: {{ aircraft.findings[0]!.words }}
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
        <div class="pairs">
          <ChoiceRow
            v-model="day.engineState"
            name="Engine"
            :choices="pairs('cold|cold', 'warm|warm', 'hot|hot')"
          />
          <ChoiceRow
            v-model="day.firstFlight"
            name="First flight"
            :choices="pairs('yes|of the day', 'no|no')"
          />
          <ChoiceRow v-model="day.rules" name="Rules" :choices="pairs('VFR|visual', 'IFR|instrument')" />
          <ChoiceRow v-model="day.night" name="Light" :choices="pairs('day|day', 'night|night')" />
        </div>
        <fieldset v-if="desk" class="exercises">
          <legend class="soft">Planned</legend>
          <label v-for="e in desk.exercises" :key="e.id"
            ><input v-model="day.exercises" type="checkbox" :value="e.id" /> {{ e.label }}</label
          >
        </fieldset>
        <div class="fields">
          <label>Runway <input v-model="choice.runway" type="text" maxlength="3" placeholder="20" /></label>
          <label
            >Wind, degrees/knots
            <input v-model="choice.wind" type="text" placeholder="190/11G18" :aria-invalid="wrong === 'wind'"
          /></label>
          <label
            >Outside air, °C
            <input
              v-model="day.oat"
              type="text"
              inputmode="decimal"
              name="oat"
              placeholder="12"
              :aria-invalid="wrong === 'oat'"
          /></label>
          <label
            >Dew point, °C
            <input
              v-model="day.dew"
              type="text"
              inputmode="decimal"
              name="dew"
              placeholder="6"
              :aria-invalid="wrong === 'dew'"
          /></label>
          <label
            >Altimeter setting, hPa
            <input
              v-model="day.qnh"
              type="text"
              inputmode="decimal"
              name="qnh"
              placeholder="1013"
              :aria-invalid="wrong === 'qnh'"
          /></label>
        </div>
      </div>
      <div class="today">
        <p v-if="problem" class="problem" role="alert">{{ problem }}</p>
        <button class="primary" type="submit" :disabled="busy || (!!aircraft && !desk)">
          Open the lesson
        </button>
        <details v-if="flown && list" class="preview" open>
          <summary data-part="preview">
            <b>{{ list.title }}, version {{ list.version }}</b
            >, {{ flown.list.phases.reduce((n, p) => n + p.items.length, 0) }} items today;
            {{ different }} differ from the printed list
            <span v-if="flown.layers.length" class="soft"
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
