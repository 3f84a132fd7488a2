<script setup lang="ts">
import { computed, onMounted, reactive, ref } from 'vue'
import { useRouter } from 'vue-router'

import { api, Refused, take, type Briefing } from '../api/client'
import ChoiceRow from '../parts/ChoiceRow.vue'
import TopBar from '../parts/TopBar.vue'
import { useOutbox, uuidv7 } from '../stores/outbox'
import { useSession } from '../stores/session'
import { methodWords, purposeWords } from '../words'

const session = useSession()
const outbox = useOutbox()
const router = useRouter()
const briefing = ref<Briefing | null>(null)
const problem = ref('')
const wrong = ref('')
const busy = ref(false)
const choice = reactive({
  student: '',
  aircraft: '',
  method: 'read-and-do',
  scale: 'independence',
  purpose: 'training',
  runway: '',
  wind: '',
  oat: '',
  qnh: '',
  engineState: 'cold',
  rules: 'VFR',
  night: 'day',
})

onMounted(async () => {
  try {
    briefing.value = await take(api.GET('/api/v1/briefing'))
  } catch (e) {
    problem.value = e instanceof Refused ? e.message : String(e)
  }
})

const aircraft = computed(() => briefing.value?.aircraft.find((a) => a.registration === choice.aircraft))
const list = computed(() => briefing.value?.lists.find((l) => l.aircraftType === aircraft.value?.type))

/** Reads a number within bounds, or says what is wrong with it. */
function number(field: string, text: string, low: number, high: number, unit: string): number | undefined {
  const t = text.trim()
  if (t === '') return undefined
  if (!/^-?\d+(\.\d+)?$/.test(t))
    throw [field, `“${t}” is not a plain number; write it like 12.5, without the unit.`]
  const n = Number(t)
  if (n < low || n > high) throw [field, `${t} is outside ${low} to ${high} ${unit}.`]
  return n
}

function conditions() {
  return {
    rules: choice.rules,
    night: choice.night === 'night',
    engineState: choice.engineState,
    elevationFt: aircraft.value?.elevationFt,
    oatC: number('oat', choice.oat, -60, 60, '°C'),
    qnhHPa: number('qnh', choice.qnh, 900, 1080, 'hPa'),
  }
}

async function open() {
  problem.value = wrong.value = ''
  busy.value = true
  try {
    if (!choice.student) throw ['student', 'Choose the student.']
    if (!aircraft.value || !list.value) throw ['aircraft', 'Choose the aircraft.']
    if (choice.wind && !/^(\d{1,3}|VRB)\/\d{1,2}(G\d{1,2})?$/.test(choice.wind))
      throw ['wind', `“${choice.wind}” is not a wind; write it like 190/11, 190/11G18 or VRB/3.`]
    const id = uuidv7()
    await outbox.openNow(id, [
      {
        kind: 'lesson-opened',
        payload: {
          student: choice.student,
          instructor: session.current!.account,
          aircraft: choice.aircraft,
          aircraftType: list.value.aircraftType,
          typeVersion: list.value.typeVersion,
          list: list.value.list,
          listVersion: list.value.listVersion,
          method: choice.method,
          scale: choice.scale,
          purpose: choice.purpose,
          runway: choice.runway.trim(),
          wind: choice.wind.trim(),
          conditions: conditions(),
        },
      },
    ])
    await router.push(`/lessons/${id}`)
  } catch (e) {
    if (Array.isArray(e)) [wrong.value, problem.value] = e as [string, string]
    else problem.value = e instanceof Error ? e.message : String(e)
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <div>
    <TopBar><b>Open a lesson</b> <span class="soft">everything here goes into the record</span></TopBar>
    <form v-if="briefing" class="brief" novalidate @submit.prevent="open">
      <ChoiceRow
        v-model="choice.student"
        name="Student"
        :choices="briefing.students.map((s) => [s.id, s.name])"
      />
      <ChoiceRow
        v-model="choice.aircraft"
        name="Aircraft"
        :choices="briefing.aircraft.map((a) => [a.registration, a.registration])"
      />
      <p v-if="aircraft?.findings.length" class="attend note">
        ▲ {{ aircraft.registration }} has {{ aircraft.findings.length }} open finding{{
          aircraft.findings.length > 1 ? 's' : ''
        }}: {{ aircraft.findings[0]!.words }}
      </p>
      <p v-if="list" class="soft note">
        {{ list.title }}, version {{ list.listVersion }}, {{ list.items }} items
      </p>
      <ChoiceRow
        v-model="choice.method"
        name="Method"
        :choices="briefing.methods.map((m) => [m, methodWords[m] ?? m])"
      />
      <ChoiceRow v-model="choice.scale" name="Scale" :choices="briefing.scales.map((s) => [s.id, s.title])" />
      <ChoiceRow
        v-model="choice.purpose"
        name="For"
        :choices="briefing.purposes.map((p) => [p, purposeWords[p] ?? p])"
      />
      <ChoiceRow
        v-model="choice.engineState"
        name="Engine"
        :choices="[
          ['cold', 'cold'],
          ['warm', 'warm'],
          ['hot', 'hot'],
        ]"
      />
      <ChoiceRow
        v-model="choice.rules"
        name="Rules"
        :choices="[
          ['VFR', 'visual'],
          ['IFR', 'instrument'],
        ]"
      />
      <ChoiceRow
        v-model="choice.night"
        name="Light"
        :choices="[
          ['day', 'day'],
          ['night', 'night'],
        ]"
      />
      <div class="fields">
        <label>Runway <input v-model="choice.runway" type="text" maxlength="3" placeholder="20" /></label>
        <label
          >Wind, degrees/knots
          <input v-model="choice.wind" type="text" placeholder="190/11" :aria-invalid="wrong === 'wind'"
        /></label>
        <label
          >Outside air, °C
          <input
            v-model="choice.oat"
            type="text"
            inputmode="decimal"
            placeholder="12"
            :aria-invalid="wrong === 'oat'"
        /></label>
        <label
          >Altimeter setting, hPa
          <input
            v-model="choice.qnh"
            type="text"
            inputmode="decimal"
            placeholder="1013"
            :aria-invalid="wrong === 'qnh'"
        /></label>
      </div>
      <p v-if="problem" class="problem" role="alert">{{ problem }}</p>
      <button class="primary" type="submit" :disabled="busy">Open the lesson</button>
    </form>
    <p v-else-if="problem" class="problem" role="alert">{{ problem }}</p>
  </div>
</template>

<style scoped>
.brief {
  max-width: 1060px;
  padding: 12px 24px 24px;
}

.note {
  padding: 0 0 8px 120px;
}

.fields {
  display: grid;
  grid-template-columns: repeat(4, minmax(0, 1fr));
  gap: 16px;
  margin: 12px 0;
}

.fields input {
  font-size: 18px;
  margin-top: 4px;
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

  .note {
    padding-left: 0;
  }
}
</style>
