<script setup lang="ts">
import { computed, reactive, ref, shallowRef, watch } from 'vue'

import { api, take } from '@/api/client'
import AppButton from '@/base/AppButton.vue'
import AppInput from '@/base/AppInput.vue'
import type { Schemas } from '@/schema/schemas'
import { addDays, clockAt, minutesAt } from '@/schedule/times'
import ProblemNotice from '@/shared/ProblemNotice.vue'
import SearchSelect from '@/shared/SearchSelect.vue'
import { useSession } from '@/shared/session'
import { useTrying } from '@/shared/trying'
import { dayIn, dayWords, fullDay } from '@/shared/words'

/** What the days have, what is proposed for them, and who would come at short notice. */
const props = defineProps<{ view: Schemas['ScheduleView']; one: boolean }>()
const emit = defineEmits<{ drawn: [] }>()
const session = useSession()
const me = session.current!
const { problem, busy, tried } = useTrying()
const proposals = shallowRef<Schemas['ProposalsView'] | null>(null)
const why = ref('')
watch(
  () => props.view.from + props.view.days.length,
  () => (proposals.value = null),
)
const past = computed(() => props.view.days.at(-1)! < props.view.today)
const query = computed(() => ({ from: props.view.from, days: props.view.days.length }))
const propose = () =>
  tried(async () => {
    proposals.value = await take(api.GET('/api/v1/proposals', { params: { query: query.value } }))
  })
const when = (p: Schemas['ProposalView']) =>
  `${fullDay(dayIn(p.startsAt, me.zone)).replace(/ \d{4}$/, '')}, ${clockAt(minutesAt(p.startsAt, me.zone))}`
const book = (p: Schemas['ProposalView']) =>
  tried(async () => {
    await take(
      api.POST('/api/v1/bookings', {
        body: {
          student: p.studentId,
          instructor: p.instructorId,
          registration: p.registration,
          on: dayIn(p.startsAt, me.zone),
          at: clockAt(minutesAt(p.startsAt, me.zone)),
          minutes: p.minutes,
          plan: p.plan,
        },
      }),
    )
    proposals.value = {
      ...proposals.value!,
      proposals: proposals.value!.proposals.filter((o) => o.studentId !== p.studentId),
    }
    emit('drawn')
  })

const standby = reactive({
  student: '',
  fromOn: me.today,
  toOn: addDays(me.today, 7),
  words: '',
})
const adding = ref(false)
const stand = () =>
  tried(async () => {
    const { student, ...body } = standby
    await take(api.PUT('/api/v1/standby/{id}', { params: { path: { id: student } }, body }))
    adding.value = false
    standby.student = standby.words = ''
    emit('drawn')
  })
const drop = (id: string) =>
  tried(async () => {
    await take(api.DELETE('/api/v1/standby/{id}', { params: { path: { id } } }))
    emit('drawn')
  })
const hours = (h: number) => `${h.toLocaleString('en-GB', { maximumFractionDigits: 1 })} h`
</script>

<template>
  <aside class="side">
    <ProblemNotice v-model="problem" />
    <section v-if="session.may('proposals') && !past" class="part">
      <h2>Proposed</h2>
      <AppButton v-if="!proposals" :disabled="busy" data-action="propose" @click="propose">
        Find next lessons
      </AppButton>
      <p v-else-if="!proposals.proposals.length" class="soft">
        Nothing more: every student with a plan has a lesson, or no time fits.
      </p>
      <article v-for="p in proposals?.proposals" :key="p.studentId" :data-proposed="p.studentId">
        <b>{{ p.student }}</b>
        <p class="small">
          {{ when(p) }}, {{ p.instructor }}, <span class="craft">{{ p.registration }}</span>
        </p>
        <p class="small soft">{{ p.plan }}</p>
        <p v-if="why === p.studentId" class="small" data-part="why">{{ p.why }}</p>
        <p class="acts">
          <AppButton :disabled="busy" data-action="book-proposed" @click="book(p)">Book</AppButton>
          <AppButton
            class="quiet"
            :aria-expanded="why === p.studentId"
            @click="why = why === p.studentId ? '' : p.studentId"
          >
            why this
          </AppButton>
        </p>
      </article>
      <p v-if="proposals?.left.length" class="small soft">
        No time that fits: {{ proposals.left.join(', ') }}.
      </p>
      <p v-if="proposals?.proposals.length" class="small soft">
        They bring the most readiness that this time has room for, one lesson a student.
      </p>
    </section>
    <section class="part">
      <h2>Stand-by</h2>
      <p v-if="!view.standby.length" class="soft">Nobody stands by.</p>
      <p v-for="s in view.standby" :key="s.studentId" :data-standby="s.studentId">
        <b>{{ s.student }}</b>
        <span class="small soft"> {{ dayWords(s.fromOn) }} to {{ dayWords(s.toOn) }} {{ s.words }}</span>
        <AppButton
          v-if="session.may('drop-standby')"
          class="quiet small"
          :aria-label="`take ${s.student} off the list`"
          @click="drop(s.studentId)"
        >
          off
        </AppButton>
      </p>
      <AppButton
        v-if="session.may('set-standby') && !adding"
        class="quiet"
        data-action="stand-by"
        @click="adding = true"
      >
        {{ session.may('book') ? 'Add a student' : 'I would come at short notice' }}
      </AppButton>
      <form v-if="adding" class="office" @submit.prevent="stand">
        <label
          >Student
          <SearchSelect
            v-model="standby.student"
            name="standby-student"
            :options="view.students.map((s) => [s.id, s.name] as const)"
        /></label>
        <label>From <AppInput v-model="standby.fromOn" type="date" name="standby-from" /></label>
        <label>To <AppInput v-model="standby.toOn" type="date" name="standby-to" /></label>
        <label
          >When it fits
          <AppInput
            v-model="standby.words"
            type="text"
            name="standby-words"
            maxlength="200"
            placeholder="such as mornings"
        /></label>
        <AppButton type="submit" :disabled="busy || !standby.student" data-action="save-standby"
          >Keep</AppButton
        >
      </form>
    </section>
    <section class="part">
      <h2>{{ one ? 'This day' : 'This week' }}</h2>
      <p>
        <b class="big">{{ view.summary.lessons }} {{ view.summary.lessons === 1 ? 'lesson' : 'lessons' }}</b>
        <span class="small soft">{{ view.summary.prepared }} with a plan or exercises</span>
      </p>
      <p>
        <b class="big">{{ hours(view.summary.bookedHours) }}</b>
        <span class="small soft">of aircraft planned; {{ hours(view.summary.freeHours) }} to be had</span>
      </p>
      <p v-if="view.waiting.length" data-part="waiting">
        <b class="big">{{ view.waiting.length }} {{ view.waiting.length === 1 ? 'student' : 'students' }}</b>
        <span class="small soft"
          >without a lesson for 14 days and none planned: {{ view.waiting.slice(0, 12).join(', ')
          }}{{ view.waiting.length > 12 ? ' and others' : '' }}</span
        >
      </p>
    </section>
  </aside>
</template>

<style scoped>
.side {
  padding: 16px 24px;
  background: var(--sheet);
  border-left: 1px solid var(--hair);
  min-height: 100%;
}

article {
  border-bottom: 1px solid var(--fine);
  padding-bottom: 6px;
}

.craft {
  white-space: nowrap;
}

.acts {
  display: flex;
  gap: 8px;
}

.acts button {
  min-height: 40px;
}

.big {
  display: block;
  font-size: 18px;
}

form {
  display: grid;
  gap: 8px;
}

.side button:not(.quiet) {
  min-height: 44px;
}

@media (max-width: 1000px) {
  .side {
    border-left: 0;
    border-top: 1px solid var(--hair);
  }
}

@media print {
  .side {
    display: none;
  }
}
</style>
