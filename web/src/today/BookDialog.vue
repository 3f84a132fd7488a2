<script setup lang="ts">
import { onMounted, reactive, shallowRef } from 'vue'

import { api, take, type Briefing } from '@/api/client'
import AppDialog from '@/shared/AppDialog.vue'
import ChoiceRow from '@/shared/ChoiceRow.vue'
import ProblemNotice from '@/shared/ProblemNotice.vue'
import SearchSelect from '@/shared/SearchSelect.vue'
import { useSession } from '@/shared/session'
import TickList from '@/shared/TickList.vue'
import { useTrying } from '@/shared/trying'

/** Plans a lesson: who, on what, when, what for. */
const open = defineModel<boolean>({ required: true })
const props = defineProps<{ student?: string; registration?: string }>()
const emit = defineEmits<{ booked: [] }>()
const session = useSession()
const me = session.current!
const briefing = shallowRef<Briefing | null>(null)
const { problem, busy, tried } = useTrying()
const wanted = reactive({
  student: props.student ?? '',
  registration: props.registration ?? '',
  on: me.today,
  at: '',
  minutes: '90',
  exercises: [] as string[],
})

onMounted(() =>
  tried(async () => {
    briefing.value = await take(api.GET('/api/v1/briefing'))
  }),
)
const book = () =>
  tried(async () => {
    if (!wanted.student || !wanted.registration || !wanted.at) {
      problem.value = 'Choose the student, the aircraft and the time.'
      return
    }
    await take(api.POST('/api/v1/bookings', { body: { ...wanted, minutes: Number(wanted.minutes) } }))
    open.value = false
    emit('booked')
  })
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
      <div class="when">
        <label>Day <input v-model="wanted.on" type="date" name="book-on" :min="me.today" /></label>
        <label>Time <input v-model="wanted.at" type="time" name="book-at" step="300" /></label>
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
      <button class="primary" type="submit" :disabled="busy" data-action="book">Plan it</button>
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
  gap: 16px;
}

input[type='time'] {
  font: inherit;
  color: var(--ink);
  background: var(--sheet);
  border: 1px solid var(--hair);
  border-radius: 3px;
  padding: 6px 8px;
}
</style>
