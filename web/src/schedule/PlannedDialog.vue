<script setup lang="ts">
import { computed, ref, shallowRef, watch } from 'vue'

import { api, take } from '@/api/client'
import AppButton from '@/base/AppButton.vue'
import AppCheck from '@/base/AppCheck.vue'
import AppInput from '@/base/AppInput.vue'
import type { Schemas } from '@/schema/schemas'
import { placeOf, useMoving, type Place } from '@/schedule/moving'
import ObstacleList from '@/schedule/ObstacleList.vue'
import AppDialog from '@/shared/AppDialog.vue'
import ProblemNotice from '@/shared/ProblemNotice.vue'
import SearchSelect from '@/shared/SearchSelect.vue'
import { useSession } from '@/shared/session'
import { dayIn, fullDay, timeWords } from '@/shared/words'
import { useTrying } from '@/shared/trying'

/** A planned lesson: open it, or take it off the plan with the reason. */
const props = defineProps<{ planned: Schemas['Planned']; against?: Schemas['ScheduleObstacle'][] }>()
const open = defineModel<boolean>({ required: true })
const emit = defineEmits<{ gone: [] }>()
const session = useSession()
const me = session.current!
const why = ref('')
const series = ref(false)
const { problem, tried } = useTrying()
/** Who stands by and could take what became free. */
const standby = shallowRef<Schemas['ScheduleNamed'][] | null>(null)
const time = (moment: string) => timeWords(moment, me.zone)
const mine = computed(() => props.planned.instructorId === me.account)

/** Another place for it, for whoever has no mouse. */
const to = ref<Place>(placeOf(props.planned, me.zone))
const moving = ref(false)
watch(
  () => props.planned.id,
  () => {
    standby.value = null
    moving.value = false
    why.value = problem.value = ''
    to.value = placeOf(props.planned, me.zone)
  },
)
const choices = shallowRef<Schemas['ScheduleView'] | null>(null)
const { moved, move, takeInstead, problem: refused, busy } = useMoving(me.zone, async () => emit('gone'))
async function show() {
  moving.value = true
  choices.value = await take(api.GET('/api/v1/schedule', { params: { query: { days: 1 } } })).catch(
    () => null,
  )
}

function cancel() {
  return tried(async () => {
    const gone = await take(
      api.POST('/api/v1/bookings/{id}/cancel', {
        params: { path: { id: props.planned.id } },
        body: { why: why.value, series: series.value },
      }),
    )
    standby.value = gone.standby
    open.value = gone.standby.length > 0
    emit('gone')
  })
}
</script>

<template>
  <AppDialog v-model="open" :title="`${planned.student}, ${planned.registration}`" :width="560">
    <ProblemNotice v-model="problem" />
    <ProblemNotice v-model="refused" />
    <p v-if="standby" data-part="standby">
      It is off the plan. {{ standby.map((s) => s.name).join(', ') }}
      {{ standby.length === 1 ? 'stands' : 'stand' }} by and could take its time.
    </p>
    <template v-else>
      <p>
        {{ fullDay(dayIn(planned.startsAt, me.zone)) }}, {{ time(planned.startsAt) }} to
        {{ time(planned.endsAt) }}, with {{ planned.instructor
        }}<template v-if="planned.plan">; by the plan: {{ planned.plan }}</template
        ><template v-if="planned.for.length">; {{ planned.for.join(', ') }}</template
        >.
      </p>
      <ObstacleList v-if="against" :obstacles="against" />
      <p v-if="session.may('book')" class="act">
        <router-link v-if="mine" class="button primary" :to="`/lessons/new?booking=${planned.id}`"
          >Open the lesson</router-link
        >
        <router-link class="button" :to="`/day?aircraft=${planned.registration}`">Day sheet</router-link>
        <router-link class="button" :to="`/students/${planned.studentId}`">Standing</router-link>
        <AppButton v-if="session.may('move-booking') && !moving" data-action="move" @click="show">
          Move it
        </AppButton>
      </p>
      <form v-if="moving" class="office move" @submit.prevent="move(planned, to)">
        <label>Day <AppInput v-model="to.on" type="date" name="move-on" :min="me.today" /></label>
        <label>Time <AppInput v-model="to.at" type="time" name="move-at" step="300" /></label>
        <label
          >Minutes
          <AppInput
            v-model.number="to.minutes"
            type="number"
            name="move-minutes"
            min="15"
            max="480"
            step="15"
        /></label>
        <template v-if="choices">
          <label
            >Instructor
            <SearchSelect
              v-model="to.instructor"
              name="move-instructor"
              :options="choices.instructors.map((i) => [i.id, i.name] as const)"
          /></label>
          <label
            >Aircraft
            <SearchSelect
              v-model="to.registration"
              name="move-aircraft"
              :options="choices.aircraft.map((a) => [a.id, `${a.name} ${a.note}`] as const)"
          /></label>
        </template>
        <AppButton type="submit" :disabled="busy" data-action="move-there">Move it there</AppButton>
        <div v-if="moved" class="wide" role="alert">
          <p v-if="moved.done" class="within">● Moved.</p>
          <ObstacleList
            :obstacles="moved.against"
            :instead="moved.instead"
            :busy="busy"
            @instead="takeInstead"
          />
        </div>
      </form>
      <form v-if="session.may('cancel-booking')" class="act" @submit.prevent="cancel">
        <AppInput
          v-model="why"
          type="text"
          name="cancel-why"
          maxlength="400"
          placeholder="why it is not flown"
        />
        <label v-if="planned.series" class="tick"
          ><AppCheck v-model="series" name="cancel-series" /> and the weeks after it</label
        >
        <AppButton type="submit" :disabled="!why.trim()" data-action="cancel-booking">
          Take it off the plan
        </AppButton>
      </form>
    </template>
  </AppDialog>
</template>

<style scoped>
.act {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  padding-top: 12px;
}

.move {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(150px, 1fr));
  gap: 10px;
  padding-top: 12px;
  align-items: end;
}

.wide {
  grid-column: 1 / -1;
}

.move input {
  font: inherit;
  color: var(--ink);
  background: var(--sheet);
  border: 1px solid var(--hair);
  border-radius: 3px;
  padding: 6px 8px;
  width: 100%;
}

.tick {
  display: flex;
  gap: 6px;
  align-items: center;
}

.act input[type='text'] {
  flex: 1;
  min-width: 180px;
}
</style>
