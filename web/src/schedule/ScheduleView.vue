<script setup lang="ts">
import { computed, defineAsyncComponent, onMounted, onUnmounted, ref, shallowRef, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import { api, take } from '@/api/client'
import AppButton from '@/base/AppButton.vue'
import type { Schemas } from '@/schema/schemas'
import { useMoving, type Place, type Planned } from '@/schedule/moving'
import MovedBar from '@/schedule/MovedBar.vue'
import ScheduleGrid from '@/schedule/ScheduleGrid.vue'
import ScheduleSide from '@/schedule/ScheduleSide.vue'
import { addDays, mondayOf, weekOf } from '@/schedule/times'
import { heed } from '@/shared/feed'
import ProblemNotice from '@/shared/ProblemNotice.vue'
import { useSession } from '@/shared/session'
import TopBar from '@/shared/TopBar.vue'
import { useTrying } from '@/shared/trying'
import { dayWords, fullDay } from '@/shared/words'

const BookDialog = defineAsyncComponent(() => import('@/schedule/BookDialog.vue'))
const PlannedDialog = defineAsyncComponent(() => import('@/schedule/PlannedDialog.vue'))
const AwayDialog = defineAsyncComponent(() => import('@/schedule/AwayDialog.vue'))
const CalendarDialog = defineAsyncComponent(() => import('@/schedule/CalendarDialog.vue'))

/** What is planned in a week or on a day, by aircraft, instructor or student. */
const session = useSession()
const me = session.current!
const route = useRoute()
const router = useRouter()
const { problem, tried } = useTrying()
const view = shallowRef<Schemas['ScheduleView'] | null>(null)

type By = 'aircraft' | 'instructor' | 'student'
const asked = (name: string) => (typeof route.query[name] === 'string' ? (route.query[name] as string) : '')
const by = computed<By>(() =>
  (['aircraft', 'instructor', 'student'] as const).includes(asked('by') as By)
    ? (asked('by') as By)
    : 'aircraft',
)
const one = computed(() => asked('days') === '1')
const from = computed(() => {
  const day = /^\d{4}-\d\d-\d\d$/.test(asked('from')) ? asked('from') : me.today
  return one.value ? day : mondayOf(day)
})
const base = computed(() => asked('base'))
const go = (to: Record<string, string | undefined>) => router.replace({ query: { ...route.query, ...to } })
const step = (way: number) => go({ from: addDays(from.value, way * days.value) })

const days = computed(() => (one.value ? 1 : 7))
const draw = () =>
  tried(async () => {
    const query = { from: from.value, days: days.value }
    const drawn = await take(api.GET('/api/v1/schedule', { params: { query } }))
    // Who has gone on to other days is not shown these.
    if (query.from === from.value && query.days === days.value) view.value = drawn
  })
watch([from, one], draw)
let unfollow: (() => void) | undefined
onMounted(() => {
  void draw()
  unfollow = heed(() => void draw())
})
onUnmounted(() => unfollow?.())

const { moved, move, takeInstead, putBack, problem: refused, busy } = useMoving(me.zone, draw)
watch([from, one], () => (moved.value = null))

const bases = computed(() => [...new Set(view.value?.aircraft.map((a) => a.base ?? ''))].filter(Boolean))
const lines = computed(() => {
  const v = view.value
  if (!v) return []
  if (by.value === 'instructor') return v.instructors
  if (by.value === 'student') return v.students
  return v.aircraft.filter((a) => !base.value || a.base === base.value)
})
const title = computed(() =>
  one.value
    ? fullDay(from.value)
    : `week ${weekOf(from.value)}, ${dayWords(from.value)} to ${dayWords(addDays(from.value, 6))}`,
)

const chosen = shallowRef<Planned | null>(null)
const showing = ref(false)
const choose = (p: Planned) => {
  chosen.value = p
  showing.value = true
}
const fresh = ref<Partial<Place & { student: string }>>({})
const booking = ref(false)
const plan = (at: Partial<Place & { student: string }>) => {
  if (!session.may('book')) return
  fresh.value = at
  booking.value = true
}
const away = ref(false)
const calendar = ref(false)
const print = () => window.print()
</script>

<template>
  <div class="place">
    <TopBar>
      <b>Schedule</b>
      <span class="when">
        <AppButton class="quiet" aria-label="earlier" data-action="earlier" @click="step(-1)">‹</AppButton>
        <span data-part="span">{{ title }}</span>
        <AppButton class="quiet" aria-label="later" data-action="later" @click="step(1)">›</AppButton>
        <AppButton class="quiet" data-action="to-today" @click="go({ from: undefined })">today</AppButton>
      </span>
    </TopBar>
    <div class="tools">
      <span class="soft">by</span>
      <AppButton
        v-for="b in ['aircraft', 'instructor', 'student']"
        :key="b"
        :class="['quiet', { on: by === b }]"
        :data-by="b"
        :aria-pressed="by === b"
        @click="go({ by: b })"
      >
        {{ b }}
      </AppButton>
      <span class="gap" />
      <AppButton :class="['quiet', { on: !one }]" :aria-pressed="!one" @click="go({ days: undefined })">
        week
      </AppButton>
      <AppButton :class="['quiet', { on: one }]" :aria-pressed="one" data-days="1" @click="go({ days: '1' })">
        day
      </AppButton>
      <template v-if="by === 'aircraft' && bases.length > 1">
        <span class="gap" />
        <AppButton :class="['quiet', { on: !base }]" @click="go({ base: undefined })">every base</AppButton>
        <AppButton
          v-for="b in bases"
          :key="b"
          :class="['quiet', { on: base === b }]"
          @click="go({ base: b })"
        >
          {{ b }}
        </AppButton>
      </template>
      <span class="rest" />
      <AppButton v-if="session.may('book')" class="quiet" data-action="plan" @click="plan({ on: from })">
        Plan a lesson
      </AppButton>
      <AppButton class="quiet" data-action="away" @click="away = true">Leave and hours</AppButton>
      <AppButton class="quiet" data-action="calendar" @click="calendar = true">Calendar address</AppButton>
      <a
        :href="`/api/v1/schedule.csv?from=${from}&days=${days}`"
        download
        class="button quiet"
        data-action="export"
        >Export</a
      >
      <AppButton class="quiet" @click="print">Print</AppButton>
    </div>
    <ProblemNotice v-model="problem" />
    <ProblemNotice v-model="refused" />
    <div v-if="view" class="schedule">
      <ScheduleGrid
        :view="view"
        :by="by"
        :lines="lines"
        :zone="me.zone"
        :mine="me.account"
        :moves="session.may('move-booking')"
        :ghost="moved && !moved.done ? moved : null"
        @choose="choose"
        @move="move"
        @plan="plan"
      />
      <ScheduleSide :view="view" :one="one" @drawn="draw" />
    </div>
    <MovedBar
      v-if="moved"
      :moved="moved"
      :busy="busy"
      @instead="takeInstead"
      @back="putBack"
      @close="moved = null"
    />
    <PlannedDialog
      v-if="chosen"
      v-model="showing"
      :planned="chosen"
      :against="view?.against[chosen.id]"
      @gone="draw"
    />
    <BookDialog v-if="booking" v-model="booking" v-bind="fresh" @booked="draw" />
    <AwayDialog v-if="away && view" v-model="away" :view="view" @drawn="draw" />
    <CalendarDialog v-if="calendar" v-model="calendar" />
  </div>
</template>

<style scoped>
.place {
  min-height: 100%;
  display: flex;
  flex-direction: column;
}

.when {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
}

.tools {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  padding: 2px 24px;
  border-bottom: 1px solid var(--hair);
}

.gap {
  width: 20px;
}

.rest {
  flex: 1;
}

.schedule {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 300px;
  flex: 1;
}

@media (max-width: 1000px) {
  .schedule {
    grid-template-columns: minmax(0, 1fr);
  }
}

@media (max-width: 500px) {
  .tools {
    padding: 2px 12px;
  }
}

@media print {
  .schedule {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
