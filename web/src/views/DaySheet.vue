<script setup lang="ts">
import { computed, onMounted, reactive, ref, shallowRef, watch } from 'vue'

import { api, Refused, take, type AircraftType, type Calculators, type Schemas } from '../api/client'
import ChoiceRow from '../parts/ChoiceRow.vue'
import TopBar from '../parts/TopBar.vue'
import { rules } from '../rules/rules'

/** The day on one sheet: each number computed, each with where it comes from. */
type Answer = { values: Record<string, unknown>; advice: { code: string; message: string }[] }
type Report = Schemas['WeatherReport']
type Sentence = { element: string; text: string; sources: string[]; missing?: string[] }
const fleet = shallowRef<Schemas['AircraftDay'][]>([])
const tools = shallowRef<Calculators | null>(null)
const type = shallowRef<AircraftType | null>(null)
const station = shallowRef<Schemas['StationView'] | null>(null)
const problem = ref('')
const helicopter = computed(() => type.value?.class === 'helicopter')
const form = reactive({
  aircraft: '',
  text: '',
  engine: 'cold',
  left: '',
  right: '',
  run: '',
  over50: '',
  power: '',
  said: '',
  studentCross: '8',
  turnBack: '900',
  flies: 'you',
  shoots: 'I',
  runway: '',
  own: {} as Record<string, string>,
})
const answers = reactive<Record<string, Answer | undefined>>({})
const wrong = reactive<Record<string, string>>({})
const heard = ref<string[]>([])
const copying = ref(false)

onMounted(async () => {
  try {
    const [today, data] = await Promise.all([
      take(api.GET('/api/v1/today')),
      take(api.GET('/api/v1/calculators')),
    ])
    fleet.value = today.aircraft
    tools.value = data
    form.aircraft = today.aircraft[0]?.registration ?? ''
  } catch (e) {
    problem.value = e instanceof Refused ? e.message : String(e)
  }
})
const aircraft = computed(() => fleet.value.find((a) => a.registration === form.aircraft))
const field = computed(() => tools.value?.aerodromes.find((a) => a.id === aircraft.value?.base))
watch(aircraft, async (a) => {
  if (!a) return
  try {
    const desk = await take(api.GET('/api/v1/desk/{type}', { params: { path: { type: a.type } } }))
    if (aircraft.value === a) type.value = desk.type
  } catch (e) {
    problem.value = e instanceof Refused ? e.message : String(e)
  }
})

async function simulated() {
  problem.value = ''
  try {
    station.value = await take(api.GET('/api/v1/station/{id}', { params: { path: { id: field.value!.id } } }))
    form.text = copying.value ? '' : station.value.report
  } catch (e) {
    problem.value = e instanceof Refused ? e.message : String(e)
  }
}

/** Reads the station's broadcast aloud, where the device can speak. */
function speak() {
  const words = new SpeechSynthesisUtterance(station.value!.broadcast)
  words.rate = 0.95
  speechSynthesis.cancel()
  speechSynthesis.speak(words)
}

async function calc(name: string, request: object): Promise<Answer | undefined> {
  try {
    const answer = await rules.calc(name, request, type.value, tools.value!.icing)
    answers[name] = answer
    delete wrong[name]
    return answer
  } catch (e) {
    answers[name] = undefined
    wrong[name] = e instanceof Error ? e.message : String(e)
  }
}
const clear = (name: string) => {
  answers[name] = undefined
  delete wrong[name]
}
const number = (text: string) => {
  const t = text.trim()
  if (!t) return undefined
  return /^-?\d+(\.\d+)?$/.test(t) ? Number(t) : t // what is no number is refused with its field's name
}
const report = computed(() => answers.metar?.values as Report | undefined)
const limits = computed(() => ({
  crosswindKt: Math.min(type.value?.winds?.crosswindKt ?? 99, Number(form.studentCross) || 99),
  tailwindKt: type.value?.winds?.tailwindKt ?? 5,
}))

let waiting: ReturnType<typeof setTimeout> | undefined
watch(
  [form, type, tools],
  () => {
    clearTimeout(waiting)
    waiting = setTimeout(() => void compute(), 120)
  },
  { deep: true },
)

async function compute() {
  const [t, f] = [type.value, field.value]
  if (!t || !f || !tools.value) return
  if (!form.text.trim())
    return [
      'metar',
      'altitudes',
      'wind',
      'carb-ice',
      'prime',
      'power-limit',
      'takeoff-brief',
      'half-way-speed',
    ].forEach(clear)
  const metar = await calc('metar', { text: form.text })
  const r = metar?.values as Report | undefined
  if (!r) return
  const altitudes =
    r.oatC !== null && r.qnhHPa !== null
      ? await calc('altitudes', { elevationFt: f.elevationFt, qnhHPa: r.qnhHPa, oatC: r.oatC })
      : clear('altitudes')
  const wind = r.wind
    ? await calc('wind', {
        directionDeg: r.wind.directionDeg ?? (r.wind.calm ? 0 : null),
        speedKt: r.wind.speedKt,
        gustKt: r.wind.gustKt,
        reference: 'true',
        variationDegEast: f.variationDegEast,
        runways: f.runways.map((w) => ({ name: w.name, headingDegMagnetic: w.headingDegMagnetic })),
        limits: limits.value,
      })
    : clear('wind')
  const chosen = form.runway || ((wind?.values.best as string | null | undefined) ?? '')
  if (r.oatC !== null && r.dewPointC !== null)
    await calc('carb-ice', { oatC: r.oatC, dewPointC: r.dewPointC })
  else clear('carb-ice')
  if (t.prime && r.oatC !== null)
    await calc('prime', { aircraftType: t.id, engineState: form.engine, oatC: r.oatC })
  else clear('prime')
  if (t.power && altitudes && r.oatC !== null)
    await calc('power-limit', {
      aircraftType: t.id,
      pressureAltitudeFt: altitudes.values.pressureAltitudeFt,
      oatC: r.oatC,
    })
  else clear('power-limit')
  const liftOff = t.speeds.find((s) => s.id === 'rotate')?.knots
  const runwayWind = ((wind?.values.runways ?? []) as { name: string; headwindKt: number }[]).find(
    (w) => w.name === chosen,
  )
  if (liftOff && runwayWind)
    await calc('half-way-speed', { liftOffKt: liftOff, headwindKt: runwayWind.headwindKt })
  else clear('half-way-speed')
  const runway = f.runways.find((w) => w.name === chosen)
  if (runway && r.wind && form.run.trim())
    await calc('takeoff-brief', {
      aircraftType: t.id,
      runway: {
        name: runway.name,
        headingDegMagnetic: runway.headingDegMagnetic,
        availableM: runway.lengthM,
        surface: runway.surface,
      },
      wind: {
        directionDeg:
          r.wind.directionDeg === null
            ? null
            : (r.wind.directionDeg - Math.round(f.variationDegEast) + 360) % 360,
        speedKt: r.wind.speedKt,
        gustKt: r.wind.gustKt,
      },
      performance: {
        groundRunM: number(form.run),
        ...(form.over50.trim() ? { over50FtM: number(form.over50) } : {}),
        ...(helicopter.value && form.power.trim() ? { powerNeeded: number(form.power) } : {}),
        ...(answers['power-limit'] ? { powerLimit: answers['power-limit'].values.limit } : {}),
      },
      school: {
        turnBackFt: number(form.turnBack) ?? null,
        flies: form.flies || 'you',
        troubleshoots: form.shoots || 'I',
      },
      elevationFt: f.elevationFt,
      ...(form.said.trim() ? { said: form.said } : {}),
      ...(altitudes ? { densityAltitudeFt: altitudes.values.densityAltitudeFt } : {}),
    })
  else clear('takeoff-brief')
}
watch([() => form.left, () => form.right, type], async () => {
  if (!type.value?.fuel || !form.left.trim() || !form.right.trim()) return clear('fuel-plan')
  await calc('fuel-plan', {
    leftL: number(form.left),
    rightL: number(form.right),
    burnLPerHour: type.value.fuel.burnLPerHour,
    imbalanceMaxL: type.value.fuel.imbalanceMaxL ?? 999,
  })
})

type Line = { id: string; label: string; value: unknown; unit: string; source: string }
const value = (calculator: string, name: string) => answers[calculator]?.values[name]
const lines = computed<Line[]>(() => {
  const of = (id: string, label: string, v: unknown, unit: string, source: string): Line[] =>
    v === undefined || v === null ? [] : [{ id, label, value: v, unit, source }]
  const places =
    1 +
    (type.value?.equipment.filter(
      (e) => e.id === 'second-altimeter' && (!e.optional || aircraft.value?.equipment.includes(e.id)),
    ).length ?? 0)
  return [
    ...of(
      'qnh',
      `altimeter setting, in ${places} place${places > 1 ? 's' : ''}`,
      report.value?.qnhHPa,
      'hPa',
      'report',
    ),
    ...of('inhg', 'the same', report.value?.altimeterInHg, 'inHg', 'report'),
    ...of('pa', 'pressure altitude', value('altitudes', 'pressureAltitudeFt'), 'ft', 'elevation, setting'),
    ...of(
      'da',
      'density altitude',
      value('altitudes', 'densityAltitudeFt'),
      'ft',
      'pressure altitude, temperature',
    ),
    ...of('humidity', 'humidity', value('carb-ice', 'humidityPercent'), '%', 'temperature, dew point'),
    ...of(
      'ice',
      'icing band',
      type.value?.engineKind === 'piston' ? value('carb-ice', 'band') : undefined,
      '',
      'general chart',
    ),
    ...of(
      'prime',
      `prime, ${String(value('prime', 'method') ?? '')}`,
      value('prime', 'amount'),
      String(value('prime', 'unit') ?? ''),
      'type, engine, temperature',
    ),
    ...of(
      'power',
      String(value('power-limit', 'label') ?? ''),
      value('power-limit', 'limit'),
      String(value('power-limit', 'unit') ?? ''),
      'type, pressure altitude, temperature',
    ),
    ...of('runway', 'runway', value('wind', 'best'), '', 'wind, limits'),
    ...of(
      'half',
      'speed at half of the run',
      value('half-way-speed', 'halfWayKt'),
      'kt',
      'lift-off speed, headwind',
    ),
    ...of('start', 'tank for the start', value('fuel-plan', 'startTank'), '', 'tanks'),
    ...of('takeoff', 'tank for take-off', value('fuel-plan', 'takeoffTank'), '', 'tanks'),
    ...of(
      'change',
      'first change after',
      value('fuel-plan', 'firstChangeMinutes'),
      'min',
      'tanks, burn, imbalance',
    ),
  ]
})
/** How the student's own number stands beside the computed one. */
function compared(l: Line): { words: string; tone: string } | null {
  const own = (form.own[l.id] ?? '').trim()
  if (!own) return null
  const [mine, right] = [Number(own), Number(l.value)]
  if (!Number.isFinite(right)) {
    const same = own.toLowerCase() === String(l.value).toLowerCase()
    return same ? { words: '● the same', tone: 'within' } : { words: '■ not the same', tone: 'out' }
  }
  if (!Number.isFinite(mine)) return { words: `“${own}” is no number`, tone: 'out' }
  const off = Math.round((mine - right) * 100) / 100
  const near = Math.abs(off) <= Math.max(1, Math.abs(right) * 0.02)
  return near
    ? { words: off ? `● ${off > 0 ? '+' : ''}${off}` : '● the same', tone: 'within' }
    : { words: `▲ ${off > 0 ? '+' : ''}${off} ${l.unit}`, tone: 'attend' }
}
const ranked = computed(() =>
  [
    ...((value('wind', 'runways') ?? []) as {
      name: string
      headwindKt: number
      crosswindKt: number
      gustCrosswindKt: number
      withinLimits: boolean
      over: string
    }[]),
  ].sort((a, b) => Number(b.withinLimits) - Number(a.withinLimits) || b.headwindKt - a.headwindKt),
)
const advice = computed(() => Object.values(answers).flatMap((a) => a?.advice ?? []))
const sentences = computed(() => (value('takeoff-brief', 'sentences') ?? []) as Sentence[])
watch(sentences, (now) => (heard.value = heard.value.filter((h) => now.some((s) => s.element === h))))
const missing = computed(() => sentences.value.filter((s) => !heard.value.includes(s.element)))
const pairs = (...all: string[]) => all.map((a) => a.split('|'))
const print = () => window.print()
</script>

<template>
  <div>
    <TopBar>
      <b>The day</b>
      <span v-if="field" class="soft">{{ field.name }}, {{ field.id }}, {{ field.elevationFt }} ft</span>
      <template #side><button class="quiet" @click="print">Print</button></template>
    </TopBar>
    <p v-if="problem" class="problem" role="alert">{{ problem }}</p>
    <main v-if="tools">
      <section class="given">
        <ChoiceRow
          v-model="form.aircraft"
          name="Aircraft"
          :choices="fleet.map((a) => [a.registration, `${a.registration} ${a.typeName}`])"
        />
        <label class="report"
          >Weather report, pasted or typed
          <textarea
            v-model="form.text"
            rows="2"
            name="report"
            spellcheck="false"
            placeholder="METAR XTHW …"
          ></textarea>
        </label>
        <p class="station">
          <button data-action="station" :disabled="!field" @click="simulated">
            Take the practice station
          </button>
          <label
            ><input v-model="copying" type="checkbox" name="copying" /> read aloud only: I copy it down</label
          >
          <template v-if="station">
            <button class="quiet" data-action="speak" @click="speak">Read it aloud</button>
            <span v-if="copying" class="soft" data-part="broadcast">{{ station.broadcast }}</span>
            <span class="attend small">▲ {{ station.note }}</span>
          </template>
        </p>
        <p v-if="wrong.metar" class="problem">{{ wrong.metar }}</p>
        <ChoiceRow
          v-if="type?.prime"
          v-model="form.engine"
          name="Engine"
          :choices="pairs('cold|cold', 'warm|warm', 'hot|hot')"
        />
        <div class="fields">
          <label
            >Student’s crosswind, kt
            <input v-model="form.studentCross" type="text" inputmode="decimal" name="student-cross"
          /></label>
          <template v-if="type?.fuel && type.fuel.tanks.length > 1">
            <label
              >Fuel left, L <input v-model="form.left" type="text" inputmode="decimal" name="left"
            /></label>
            <label
              >Fuel right, L <input v-model="form.right" type="text" inputmode="decimal" name="right"
            /></label>
          </template>
          <label
            >{{ helicopter ? 'Clear the fence, m' : 'Ground run, m' }}
            <input v-model="form.run" type="text" inputmode="decimal" name="run"
          /></label>
          <label
            >To 50 ft, m <input v-model="form.over50" type="text" inputmode="decimal" name="over50"
          /></label>
          <label v-if="helicopter"
            >Power for the hover <input v-model="form.power" type="text" inputmode="decimal" name="power"
          /></label>
          <label
            >Turn back from, ft
            <input
              v-model="form.turnBack"
              type="text"
              inputmode="decimal"
              name="turn-back"
              placeholder="never"
          /></label>
          <label>Who flies <input v-model="form.flies" type="text" name="flies" /></label>
          <label>Who reads the list <input v-model="form.shoots" type="text" name="shoots" /></label>
        </div>
        <p
          v-for="(why, name) in wrong"
          v-show="name !== 'metar'"
          :key="name"
          class="problem"
          :data-wrong="name"
        >
          {{ why }}
        </p>
        <p v-for="a in advice" :key="a.code + a.message" class="small">
          <span
            :class="
              a.code === 'general-chart' || a.code === 'fades' || a.code === 'if-flooded' ? 'soft' : 'attend'
            "
            >▲ {{ a.message }}</span
          >
        </p>
      </section>
      <section class="sheet" aria-label="The day computed">
        <p v-if="!lines.length" class="soft">The sheet fills as soon as there is a report.</p>
        <table v-else class="plain" data-part="sheet">
          <thead class="soft small">
            <tr>
              <th>what</th>
              <th class="right">computed</th>
              <th>from</th>
              <th>student’s own</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="l in lines" :key="l.id" :data-line="l.id">
              <td>{{ l.label }}</td>
              <td class="right">
                <b class="mono">{{ l.value }}</b> {{ l.unit }}
              </td>
              <td class="soft small">{{ l.source }}</td>
              <td class="own">
                <input
                  v-model="form.own[l.id]"
                  type="text"
                  :aria-label="`Student's own ${l.label}`"
                  :name="`own-${l.id}`"
                />
                <span v-if="compared(l)" :class="compared(l)!.tone">{{ compared(l)!.words }}</span>
              </td>
            </tr>
          </tbody>
        </table>
        <div v-if="ranked.length" class="runways" data-part="runways">
          <button
            v-for="w in ranked"
            :key="w.name"
            :class="['runway', { on: (form.runway || value('wind', 'best')) === w.name }]"
            :data-runway="w.name"
            @click="form.runway = w.name"
          >
            <b class="mono">{{ w.name }}</b>
            <span>{{ w.headwindKt >= 0 ? 'head' : 'tail' }} {{ Math.abs(w.headwindKt) }} kt</span>
            <span
              >cross {{ Math.abs(w.crosswindKt) }} kt
              {{ w.crosswindKt < 0 ? 'from left' : 'from right' }}</span
            >
            <span :class="w.withinLimits ? 'within' : 'out'">{{
              w.withinLimits ? '● within limits' : `■ ${w.over}`
            }}</span>
          </button>
        </div>
        <p
          v-if="report?.wind && !report.wind.calm && report.wind.directionDeg !== null && field"
          class="soft"
        >
          For the start: nose towards
          {{ (report.wind.directionDeg - Math.round(field.variationDegEast) + 360) % 360 }}° magnetic, into
          {{ report.wind.speedKt }} kt.
        </p>
        <div v-if="sentences.length" class="brief" data-part="brief">
          <h2>
            The brief, as it is said
            <span class="soft small">tick what you hear: {{ heard.length }} of {{ sentences.length }}</span>
          </h2>
          <label v-for="s in sentences" :key="s.element" :data-element="s.element">
            <input v-model="heard" type="checkbox" :value="s.element" />
            <span
              >{{ s.text }}<small class="soft">{{ s.sources.join(', ') }}</small
              ><small v-if="s.missing" class="attend">▲ not said: {{ s.missing.join(', ') }}</small></span
            >
          </label>
          <label class="said"
            >What the student said, typed: its numbers are held to the sheet’s
            <textarea v-model="form.said" rows="2" name="said" maxlength="4000"></textarea>
          </label>
          <p v-if="heard.length && missing.length" class="attend" data-part="missing">
            ▲ Not heard: {{ missing.map((s) => s.element.replaceAll('-', ' ')).join(', ') }}.
          </p>
          <p v-else-if="heard.length" class="within">● Every element was heard.</p>
        </div>
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
  font: 16px var(--mono);
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

.right {
  text-align: right;
}

td b {
  font-size: 20px;
}

.own {
  width: 190px;
}

.own input {
  width: 78px;
  padding: 4px 8px;
  margin-right: 8px;
}

.runways {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(140px, 1fr));
  gap: 8px;
  margin: 10px 0;
}

.runway {
  display: grid;
  text-align: left;
  border-color: var(--hair);
  line-height: 1.3;
  font-size: 14px;
}

.runway.on {
  outline: 2px solid var(--ink);
  background: var(--live);
}

.runway b {
  font-size: 26px;
}

h2 {
  font-size: 18px;
  font-weight: 700;
  border-bottom: 1px solid var(--ink);
}

.brief label:not(.said) {
  display: grid;
  grid-template-columns: 28px minmax(0, 1fr);
  padding: 5px 0;
  border-bottom: 1px solid var(--fine);
  font-size: 17px;
  line-height: 1.3;
}

.brief input {
  width: 20px;
  height: 20px;
}

small {
  display: block;
  font-size: 12px;
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
