<script setup lang="ts">
import { computed, onMounted, onUnmounted, reactive, ref, shallowRef, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import { api, take } from '@/api/client'
import AppButton from '@/base/AppButton.vue'
import AppCheck from '@/base/AppCheck.vue'
import AppInput from '@/base/AppInput.vue'
import type { Briefing, DeskView, Flown, Schemas } from '@/schema/schemas'
import ChoiceRow from '@/shared/ChoiceRow.vue'
import SearchRow from '@/shared/SearchRow.vue'
import FlownList from '@/lists/FlownList.vue'
import TickList from '@/shared/TickList.vue'
import TopBar from '@/shared/TopBar.vue'
import { ready, RuleError, rules } from '@/rules/rules'
import { useLesson } from '@/lesson/lesson'
import { useSession } from '@/shared/session'
import { engineStates, fresh, methodWords, purposeWords, timeWords, dayIn, fullDay } from '@/shared/words'
import { inWords } from '@/shared/errors'

const session = useSession()
const me = session.current!
const lesson = useLesson()
const router = useRouter()
const route = useRoute()
const briefing = shallowRef<Briefing | null>(null)
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
  fuelLeft: '',
  fuelRight: '',
})
const day = reactive({
  ...fresh.flown,
  exercises: [] as string[],
})
/** A lesson that was kept on paper: its day, and when it moved off and was shut down as it stands there. */
const paper = reactive({ day: '', off: '', on: '' })
const onPaper = ref(false)
const mayWriteDown = ref(false)
/** What an instructor chose last is chosen again. */
const kept = ['method', 'scale'] as const
const keptKey = `open-lesson:${me.account}`
Object.assign(choice, JSON.parse(localStorage.getItem(keptKey) ?? '{}'))
watch(
  () => kept.map((k) => choice[k]),
  () => localStorage.setItem(keptKey, JSON.stringify(Object.fromEntries(kept.map((k) => [k, choice[k]])))),
)

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

/** A planned lesson says who, on what and what for. */
const mine = computed(() =>
  (briefing.value?.planned ?? []).filter((p) => p.instructorId === me.account && !p.lesson),
)
const plannedChoices = computed(() =>
  mine.value.slice(0, 3).map((p) => {
    const { zone, today } = me
    const on = dayIn(p.startsAt, zone)
    return [
      p.id,
      `${on === today ? '' : `${fullDay(on).split(' ')[0]} `}${timeWords(p.startsAt, zone)} ${p.student}, ${p.registration}`,
    ]
  }),
)
const planned = ref('')
watch(planned, (id) => {
  const p = mine.value.find((b) => b.id === id)
  if (!p) return
  choice.student = p.studentId
  choice.aircraft = p.registration
  day.exercises = [...p.exercises]
})

/** A report fills the boxes of the weather. */
const report = ref('')
const unread = ref('')
const field = computed(() => briefing.value?.aerodromes.find((a) => a.id === aircraft.value?.base))
watch(report, (text) => {
  unread.value = ''
  if (text.trim().length > 8) read(text)
})
const practice = () => (report.value = briefing.value!.reports[field.value!.id]!)
function read(text: string) {
  try {
    const said = rules.report(text, field.value)
    day.oat = said.oat || day.oat
    day.dew = said.dew || day.dew
    day.qnh = said.qnh || day.qnh
    choice.wind = said.wind || choice.wind
    choice.runway = said.runway || choice.runway
  } catch (e) {
    if (!(e instanceof RuleError)) throw e
    unread.value = e.said({ report: 'The report' })
  }
}

onMounted(async () => {
  try {
    const [told] = await Promise.all([take(api.GET('/api/v1/briefing')), ready()])
    briefing.value = told
    planned.value = String(route.query.booking ?? '')
  } catch (e) {
    problem.value = inWords(e)
  }
})

const aircraft = computed(() => briefing.value?.aircraft.find((a) => a.registration === choice.aircraft))
const written = computed(() => (onPaper.value ? paper.day : ''))
watch([aircraft, written], async ([a, on]) => {
  desk.value = flown.value = null
  choice.list = choice.order = choice.fuelLeft = choice.fuelRight = ''
  if (!a) return
  try {
    const d = await take(
      api.GET('/api/v1/desk/{type}', {
        params: { path: { type: a.type }, query: on ? { on } : {} },
      }),
    )
    if (aircraft.value !== a || written.value !== on) return
    desk.value = d
    mayWriteDown.value = d.paper
    choice.list = d.lists[0]?.id ?? ''
    const { startOrder, fuelMethod, skips, breakers } = d.policy
    choice.order = (startOrder.length ? startOrder : (d.type.startOrder ?? [])).join(',')
    Object.assign(day, { fuelMethod, skips, breakers })
  } catch (e) {
    problem.value = inWords(e)
  }
})
const list = computed(() => desk.value?.lists.find((l) => l.id === choice.list))
const orders = computed(() => {
  const own = desk.value?.type.startOrder ?? []
  const name = (n: number) => `${desk.value!.type.engineNames?.[n - 1] ?? n} first`
  return own.length ? [own, [...own].reverse()].map((o) => [o.join(','), name(o[0]!)]) : []
})

/** The students, those who train on the aircraft's type first. */
const fitting = computed(() => {
  const fits = (s: Schemas['StoreStudent']) => (desk.value?.students.includes(s.id) ? 0 : 1)
  return (briefing.value?.students ?? []).toSorted((a, b) => fits(a) - fits(b))
})

/** Everything chosen and typed so far, as the rules take it. */
const chosen = computed(
  () =>
    ({
      ...choice,
      instructor: me.account,
      equipment: aircraft.value?.equipment,
      elevationFt: aircraft.value?.elevationFt,
      startOrder: choice.order ? choice.order.split(',').map(Number) : undefined,
      date: briefing.value?.day,
      passing: desk.value?.policy.passing,
      paper: onPaper.value
        ? { day: paper.day, off: paper.off || undefined, on: paper.on || undefined }
        : undefined,
      day,
      list: list.value,
      type: desk.value?.type,
      layers: desk.value?.layers,
    }) as Schemas['LessonChoice'],
)

let waiting: ReturnType<typeof setTimeout> | undefined
watch(
  chosen,
  () => {
    clearTimeout(waiting)
    waiting = setTimeout(() => tried(tailor), 150)
  },
  { deep: true },
)
onUnmounted(() => clearTimeout(waiting))

/** The list as flown today, by the rules in this browser. */
async function tailor() {
  await ready()
  flown.value = list.value ? rules.choose(chosen.value) : null
}
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

const labels: Record<string, string> = {
  student: 'The student',
  aircraft: 'The aircraft',
  wind: 'The wind',
  oat: 'The outside air',
  dew: 'The dew',
  qnh: 'The altimeter setting',
  fuelLeft: 'The fuel in the left tank',
  fuelRight: 'The fuel in the right tank',
  'payload.paper.day': 'The day on the paper',
  'payload.paper.off': 'Off',
  'payload.paper.on': 'On',
}
async function tried(run: () => Promise<void>) {
  problem.value = wrong.value = ''
  try {
    await run()
  } catch (e) {
    problem.value = inWords(e)
    if (!(e instanceof RuleError)) return
    wrong.value = e.field
    problem.value = e.said(labels)
  }
}

async function open() {
  busy.value = true
  clearTimeout(waiting) // what is refused stays to be read
  await tried(async () => {
    await tailor()
    const payload = rules.opened(chosen.value)
    const id = await lesson.open(payload, desk.value!, briefing.value!)
    await router.push(`/lessons/${id}`)
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
        <div v-if="mayWriteDown" class="paper" data-part="paper">
          <label class="tick"
            ><AppCheck v-model="onPaper" name="on-paper" /> it was kept on paper, and is written down
            now</label
          >
          <template v-if="onPaper">
            <label
              >Its day <AppInput v-model="paper.day" type="date" name="paper-day" :max="me.today"
            /></label>
            <label>Off, as read <AppInput v-model="paper.off" type="time" name="paper-off" /></label>
            <label>On, as read <AppInput v-model="paper.on" type="time" name="paper-on" /></label>
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
        <div class="report">
          <label
            >Weather report, pasted or typed: it fills the boxes below
            <AppInput
              v-model="report"
              type="text"
              name="report"
              placeholder="METAR XTHW …"
              maxlength="1000"
            />
          </label>
          <AppButton :disabled="!field" data-action="station" @click="practice">
            Take the practice station
          </AppButton>
          <small v-if="unread" class="problem">{{ unread }}</small>
          <small v-else-if="field && report === briefing.reports[field.id]" class="attend"
            >▲ {{ briefing.note }}</small
          >
        </div>
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

.report {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  gap: 4px 12px;
  align-items: end;
  margin: 8px 0;
}

.report small {
  grid-column: 1 / 3;
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
