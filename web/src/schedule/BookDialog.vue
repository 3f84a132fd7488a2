<script setup lang="ts">
import { computed, onMounted, reactive, shallowRef } from 'vue'

import { api, Refused, take } from '@/api/client'
import AppButton from '@/base/AppButton.vue'
import AppInput from '@/base/AppInput.vue'
import type { Briefing, Schemas } from '@/schema/schemas'
import ObstacleList from '@/schedule/ObstacleList.vue'
import { clockAt, minutesAt } from '@/schedule/times'
import AppDialog from '@/shared/AppDialog.vue'
import ChoiceRow from '@/shared/ChoiceRow.vue'
import ProblemNotice from '@/shared/ProblemNotice.vue'
import SearchSelect from '@/shared/SearchSelect.vue'
import { useSession } from '@/shared/session'
import TickList from '@/shared/TickList.vue'
import { useTrying } from '@/shared/trying'

/** Plans a lesson: who, on what, when, what for. */
const open = defineModel<boolean>({ required: true })
const props = defineProps<{
  student?: string
  registration?: string
  instructor?: string
  on?: string
  at?: string
}>()
const emit = defineEmits<{ booked: [] }>()
const session = useSession()
const me = session.current!
const briefing = shallowRef<Briefing | null>(null)
const { problem, busy, tried } = useTrying()
const wanted = reactive({
  student: props.student ?? '',
  registration: props.registration ?? '',
  instructor: props.instructor ?? me.account,
  on: props.on && props.on > me.today ? props.on : me.today,
  at: props.at ?? '',
  minutes: '90',
  weeks: '1',
  exercises: [] as string[],
})
/** What stands against it, and how it would go. */
const against = shallowRef<Schemas['Against'] | null>(null)

onMounted(() =>
  tried(async () => {
    briefing.value = await take(api.GET('/api/v1/briefing'))
    teachers.value = (await take(api.GET('/api/v1/schedule', { params: { query: { days: 1 } } }))).instructors
  }),
)
const teachers = shallowRef<Schemas['ScheduleLine'][]>([])
const body = computed(() => ({ ...wanted, minutes: Number(wanted.minutes), weeks: Number(wanted.weeks) }))
const book = () =>
  tried(async () => {
    if (!wanted.student || !wanted.registration || !wanted.at) {
      problem.value = 'Choose the student, the aircraft and the time.'
      return
    }
    against.value = null
    try {
      const { warned } = await take(api.POST('/api/v1/bookings', { body: body.value }))
      emit('booked')
      if (warned.length) against.value = { obstacles: warned, instead: [] }
      else open.value = false
    } catch (e) {
      if (e instanceof Refused && e.status === 422)
        against.value = await take(api.POST('/api/v1/bookings/try', { body: body.value })).catch(() => null)
      if (!against.value?.obstacles.length) throw e
    }
  })
const booked = computed(() => !!against.value && !against.value.obstacles.some((o) => o.refused))
function instead(way: Schemas['ScheduleAlternative']) {
  Object.assign(wanted, {
    instructor: way.instructorId,
    registration: way.registration,
    at: clockAt(minutesAt(way.startsAt, me.zone)),
  })
  return book()
}
</script>

<template>
  <AppDialog v-model="open" title="Plan a lesson" :width="640">
    <ProblemNotice v-model="problem" />
    <form v-if="briefing" class="office" novalidate @submit.prevent="book">
      <label
        >Student
        <SearchSelect
          v-model="wanted.student"
          name="book-student"
          :options="briefing.students.map((s) => [s.id, s.name] as const)"
      /></label>
      <label
        >Aircraft
        <SearchSelect
          v-model="wanted.registration"
          name="book-aircraft"
          :options="
            briefing.aircraft.map((a) => [a.registration, `${a.registration} ${a.typeName}`] as const)
          "
      /></label>
      <label v-if="teachers.length"
        >Instructor
        <SearchSelect
          v-model="wanted.instructor"
          name="book-instructor"
          :options="teachers.map((t) => [t.id, t.name] as const)"
      /></label>
      <div class="when">
        <label>Day <AppInput v-model="wanted.on" type="date" name="book-on" :min="me.today" /></label>
        <label>Time <AppInput v-model="wanted.at" type="time" name="book-at" step="300" /></label>
      </div>
      <ChoiceRow
        v-model="wanted.minutes"
        name="Minutes"
        :choices="['60', '90', '120', '180'].map((m) => [m, m])"
      />
      <TickList
        v-model="wanted.exercises"
        label="Exercises"
        :options="briefing.exercises.map((e) => [e.id, e.label])"
      />
      <ChoiceRow
        v-model="wanted.weeks"
        name="Each week"
        :choices="[
          ['1', 'once'],
          ['2', '2 weeks'],
          ['4', '4 weeks'],
          ['8', '8 weeks'],
        ]"
      />
      <template v-if="against">
        <p v-if="booked" class="within">● It is planned.</p>
        <div role="alert">
          <ObstacleList
            :obstacles="against.obstacles"
            :instead="against.instead"
            :busy="busy"
            @instead="instead"
          />
        </div>
      </template>
      <AppButton v-if="booked" class="primary" data-action="booked" @click="open = false"> Close </AppButton>
      <AppButton v-else class="primary" type="submit" :disabled="busy" data-action="book">Plan it</AppButton>
    </form>
  </AppDialog>
</template>

<style scoped>
form {
  display: grid;
  gap: 12px;
}

.when {
  display: flex;
  flex-wrap: wrap;
  gap: 10px 16px;
  align-items: center;
}
</style>
