<script setup lang="ts">
import { computed, reactive, ref, watch } from 'vue'

import { api, take } from '@/api/client'
import AppButton from '@/base/AppButton.vue'
import AppInput from '@/base/AppInput.vue'
import type { Schemas } from '@/schema/schemas'
import AppDialog from '@/shared/AppDialog.vue'
import ProblemNotice from '@/shared/ProblemNotice.vue'
import SearchSelect from '@/shared/SearchSelect.vue'
import { useSession } from '@/shared/session'
import { useTrying } from '@/shared/trying'
import { agoWords } from '@/shared/words'

/** Leave, what is not to be had of the aircraft, and when instructors work. */
const props = defineProps<{ view: Schemas['ScheduleView'] }>()
const open = defineModel<boolean>({ required: true })
const emit = defineEmits<{ drawn: [] }>()
const me = useSession().current!
const session = useSession()
const { problem, busy, tried } = useTrying()
const governs = session.may('set-place')
const keeps = session.may('set-aircraft')
const teaches = props.view.instructors.some((i) => i.id === me.account)

const whose = computed(() => [
  ...(governs
    ? [...props.view.instructors, ...props.view.students]
    : [{ id: me.account, name: me.name }]
  ).map((p) => [p.id, p.name] as const),
  ...(keeps ? props.view.aircraft.map((a) => [a.id, `${a.name} ${a.note}`] as const) : []),
])
const note = reactive({
  of: whose.value.some(([id]) => id === me.account) ? me.account : (whose.value[0]?.[0] ?? ''),
  fromOn: props.view.today,
  toOn: props.view.today,
  why: '',
})
const save = () =>
  tried(async () => {
    const aircraft = props.view.aircraft.some((a) => a.id === note.of)
    const { of, ...body } = note
    await take(
      api.POST('/api/v1/away', { body: { ...body, ...(aircraft ? { registration: of } : { person: of }) } }),
    )
    note.why = ''
    emit('drawn')
  })
const end = (id: string) =>
  tried(async () => {
    await take(api.POST('/api/v1/away/{id}/end', { params: { path: { id } } }))
    emit('drawn')
  })
const mayEnd = (a: Schemas['ScheduleAway']) => (a.registration ? keeps : governs || a.personId === me.account)

const days = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday']
const teachers = computed(() => props.view.instructors.filter((i) => governs || i.id === me.account))
const worker = ref(teachers.value.find((t) => t.id === me.account)?.id ?? teachers.value[0]?.id ?? '')
const week = ref<{ from: string; to: string }[]>([])
watch(
  worker,
  (id) => {
    const said = props.view.shifts[id] ?? []
    week.value = days.map((_, i) => {
      const shift = said.find((s) => s.day === i + 1)
      return { from: shift?.from ?? '', to: shift?.to ?? '' }
    })
  },
  { immediate: true },
)
const kept = ref(false)
const saveWeek = () =>
  tried(async () => {
    const shifts = week.value.flatMap((s, i) => (s.from || s.to ? [{ day: i + 1, ...s }] : []))
    await take(api.PUT('/api/v1/shifts/{id}', { params: { path: { id: worker.value } }, body: { shifts } }))
    kept.value = true
    emit('drawn')
  })
</script>

<template>
  <AppDialog v-model="open" title="Leave and hours" :width="720">
    <ProblemNotice v-model="problem" />
    <form class="office" @submit.prevent="save">
      <label
        >{{ keeps ? 'Who or which aircraft' : 'Who' }}
        <SearchSelect v-model="note.of" name="away-of" :options="whose"
      /></label>
      <div class="row">
        <label>First day <AppInput v-model="note.fromOn" type="date" name="away-from" /></label>
        <label>Last day <AppInput v-model="note.toOn" type="date" name="away-to" :min="note.fromOn" /></label>
      </div>
      <label
        >Why
        <AppInput
          v-model="note.why"
          type="text"
          name="away-why"
          maxlength="200"
          placeholder="leave, a course, yearly check"
      /></label>
      <AppButton type="submit" :disabled="busy || !note.why.trim() || !note.of" data-action="note-away">
        Note it
      </AppButton>
    </form>
    <h3 class="ruled">On the days that are shown</h3>
    <p v-if="!view.away.length" class="soft">Nobody and nothing is away.</p>
    <p v-for="a in view.away" :key="a.id" class="row" :data-away="a.id">
      <span
        ><b>{{ a.person || a.registration }}</b> {{ agoWords(Date.parse(a.startsAt), me.zone) }} to
        {{ agoWords(Date.parse(a.endsAt), me.zone) }}: {{ a.why }}</span
      >
      <AppButton v-if="mayEnd(a)" class="quiet" :disabled="busy" @click="end(a.id)">
        does not hold any more
      </AppButton>
    </p>
    <template v-if="session.may('set-shifts') && (teaches || governs)">
      <h3 class="ruled">When instructors work</h3>
      <p class="soft small">
        An instructor without hours can be planned at any time. The policy says whether a lesson outside of
        hours is refused or only warned of.
      </p>
      <SearchSelect
        v-if="teachers.length > 1"
        v-model="worker"
        label="instructor"
        name="shift-of"
        :options="teachers.map((t) => [t.id, t.name] as const)"
      />
      <form class="week" @submit.prevent="saveWeek">
        <template v-for="(d, i) in days" :key="d">
          <span>{{ d }}</span>
          <AppInput
            v-model="week[i]!.from"
            type="time"
            step="900"
            :aria-label="`${d}, from`"
            :name="`from-${i + 1}`"
          />
          <AppInput
            v-model="week[i]!.to"
            type="time"
            step="900"
            :aria-label="`${d}, to`"
            :name="`to-${i + 1}`"
          />
        </template>
        <AppButton type="submit" :disabled="busy" data-action="keep-shifts" @blur="kept = false">
          {{ kept ? 'Kept' : 'Keep the week' }}
        </AppButton>
      </form>
    </template>
  </AppDialog>
</template>

<style scoped>
form {
  display: grid;
  gap: 10px;
}

.row {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 16px;
  align-items: center;
}

h3 {
  margin: 18px 0 6px;
}

.week {
  grid-template-columns: 110px 120px 120px;
  align-items: center;
  margin-top: 8px;
}

.week button {
  grid-column: 1 / -1;
}
</style>
