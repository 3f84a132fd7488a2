<script setup lang="ts">
import { computed, defineAsyncComponent, onMounted, onUnmounted, ref, shallowRef } from 'vue'

import { api, take } from '@/api/client'
import AppButton from '@/base/AppButton.vue'
import type { Schemas, Today } from '@/schema/schemas'
import DeferralLine from '@/fleet/DeferralLine.vue'
import TrendNotices from '@/fleet/TrendNotices.vue'
import DayPlan from '@/today/DayPlan.vue'
import FieldSheet from '@/today/FieldSheet.vue'
import LessonLine from '@/today/LessonLine.vue'
import OfflineCopy from '@/today/OfflineCopy.vue'
import TopBar from '@/shared/TopBar.vue'
import { follow } from '@/shared/feed'
import { useSession } from '@/shared/session'
import { dayIn, dayWords, decisionWords, fullDay, timeWords } from '@/shared/words'
import { useTrying } from '@/shared/trying'

const BookDialog = defineAsyncComponent(() => import('@/schedule/BookDialog.vue'))
const ReturnDialog = defineAsyncComponent(() => import('@/fleet/ReturnDialog.vue'))
const PlannedDialog = defineAsyncComponent(() => import('@/schedule/PlannedDialog.vue'))

const session = useSession()
const me = session.current!
const today = shallowRef<Today | null>(null)
const { problem, tried } = useTrying()
const now = ref(Date.now())
const booking = ref(false)
const chosen = shallowRef<Schemas['Planned'] | null>(null)
const returning = shallowRef<Schemas['StoreFinding'] | null>(null)
function load() {
  return tried(async () => {
    today.value = await take(api.GET('/api/v1/today'))
    now.value = Date.parse(today.value.now)
    problem.value = ''
  })
}

let leave: (() => void) | undefined
let gone = false
const minute = setInterval(() => (now.value += 60_000), 60_000)
onMounted(async () => {
  await load()
  if (gone) return
  leave = follow(
    () => today.value?.cursor,
    () => void load(),
  )
})
onUnmounted(() => {
  gone = true
  leave?.()
  clearInterval(minute)
})

const zone = computed(() => me.zone)
const time = (moment: string) => timeWords(moment, zone.value)
const next = computed(() => today.value?.next)
const teaches = computed(() => session.may('briefing'))
/** When the next lesson begins, from now. */
const soon = computed(() => {
  const p = next.value!
  const minutes = Math.round((Date.parse(p.startsAt) - now.value) / 60_000)
  if (minutes < 0) return `now, since ${time(p.startsAt)}`
  if (minutes <= 120) return `next, in ${minutes} minutes, at ${time(p.startsAt)}`
  const day = dayIn(p.startsAt, zone.value)
  return `next, ${day === today.value!.day ? '' : `${fullDay(day)}, `}at ${time(p.startsAt)}`
})
const verbs = { sign: 'Sign', acknowledge: 'Acknowledge', approve: 'Approve', decide: 'Decide', run: 'Go on' }
const tone = { sign: 'attend', acknowledge: '', approve: '', decide: 'out', run: 'attend' }
const link = (w: Schemas['WaitingFor']) =>
  w.kind === 'approve'
    ? `/documents/${w.ref}`
    : w.kind === 'decide'
      ? `/aircraft/${w.title}`
      : w.kind === 'run'
        ? `/lessons/${w.ref}`
        : `/lessons/${w.ref}/debrief`
const open = computed(() => today.value?.aircraft.filter((a) => a.findings.length) ?? [])
</script>

<template>
  <div class="place">
    <TopBar
      ><b>Today</b>
      <span>{{ today ? fullDay(today.day) : '' }}</span>
      <span class="soft">{{ me.school }}</span>
    </TopBar>
    <p v-if="today?.notice" class="notice attend" role="status" data-part="told">{{ today.notice }}</p>
    <p v-if="problem" class="problem" role="alert">
      {{ problem }} <AppButton class="quiet" @click="load">Try again</AppButton>
    </p>
    <div v-if="today" class="columns">
      <main>
        <section v-if="next" class="next" data-part="next">
          <div>
            <p class="soft small">{{ soon }}</p>
            <p class="names">
              <b>{{ next.studentId === me.account ? `with ${next.instructor}` : next.student }}</b>
              <span>{{ next.registration }} {{ next.typeName }}</span>
            </p>
            <p v-if="next.for.length">{{ next.for.join(', ') }}</p>
            <p v-if="next.plan" class="soft">
              What would help most: {{ next.plan.toLowerCase() }}. It shows {{ next.closes }} of the
              {{ next.inTheWay }} in the way.
            </p>
          </div>
          <p class="act">
            <router-link class="button" :to="`/day?aircraft=${next.registration}`">Day sheet</router-link>
            <router-link v-if="teaches" class="button primary" :to="`/lessons/new?booking=${next.id}`"
              >Open the lesson</router-link
            >
          </p>
        </section>
        <p v-if="teaches" class="act beside">
          <router-link to="/lessons/new" :class="['button', { primary: !next }]">Open a lesson</router-link>
          <AppButton data-action="plan" @click="booking = true">Plan a lesson</AppButton>
        </p>
        <OfflineCopy v-if="teaches" />
        <section>
          <h2>The day</h2>
          <DayPlan
            :today="today"
            :zone="zone"
            :mine="me.account"
            :now="now"
            @choose="chosen = $event.studentId ? $event : null"
          />
          <p v-if="today.tomorrow.length" class="soft" data-part="tomorrow">
            {{ fullDay(dayIn(today.tomorrow[0]!.startsAt, zone)) }}:
            <AppButton
              v-for="p in today.tomorrow.filter((p) => p.studentId)"
              :key="p.id"
              class="quiet"
              @click="chosen = p"
            >
              {{ time(p.startsAt) }} {{ p.student }}, {{ p.registration }}
            </AppButton>
          </p>
        </section>
        <section v-if="today.examines" data-part="shared">
          <h2>Shared with you</h2>
          <p v-if="!today.shared.length" class="soft none">No record is shared with you now.</p>
          <router-link v-for="s in today.shared" :key="s.id" :to="`/students/${s.id}`" class="wait">
            <b>{{ s.name }}</b> <span>with {{ s.instructor }}</span>
          </router-link>
        </section>
        <TrendNotices v-if="session.may('return-aircraft')" title="Goes to its limit" />
        <section data-part="waits">
          <h2>Waits for you</h2>
          <p v-if="!today.waits.length" class="soft none">Nothing waits for you.</p>
          <component
            :is="link(w) ? 'router-link' : 'p'"
            v-for="w in today.waits"
            :key="w.kind + w.ref + w.what"
            :to="link(w)"
            class="wait"
            :data-wait="w.kind"
          >
            <b :class="tone[w.kind]">{{ verbs[w.kind] }}</b>
            <span>{{ w.title }}{{ w.on ? `, ${dayWords(w.on)}` : '' }}</span>
            <span class="soft small">{{ w.what }}</span>
          </component>
        </section>
        <section v-if="today.running.length">
          <h2>Running</h2>
          <LessonLine v-for="l in today.running" :key="l.id" :lesson="l" />
        </section>
        <details class="past">
          <summary>
            Signed in the last two weeks: <b class="figure">{{ today.recent.length }}</b>
          </summary>
          <LessonLine v-for="l in today.recent" :key="l.id" :lesson="l" />
        </details>
      </main>
      <aside>
        <FieldSheet v-for="(f, i) in today.fields" :key="f.id" :field="f" :small="i > 0" />
        <p v-if="today.fields[0]" class="soft small">▲ {{ today.fields[0].note }}</p>
        <h2>On the ground</h2>
        <p v-if="!today.aircraft.length" class="soft none">The school has no aircraft yet.</p>
        <article v-for="a in open" :key="a.registration">
          <p class="craft">
            <b>{{ a.registration }}</b> <span class="soft">{{ a.typeName }}</span>
            <span v-if="a.grounded" class="out state">■ stays on the ground</span>
            <span v-else class="attend state">▲ {{ a.findings.length }} open</span>
          </p>
          <div v-for="f in a.findings" :key="f.event" class="finding">
            {{ f.words }}
            <span class="soft">
              {{ dayWords(f.on) }}, {{ decisionWords[f.decision] ?? 'nobody has decided'
              }}{{ f.told ? `, told ${f.told}` : '' }}</span
            >
            <DeferralLine :finding="f" />
            <AppButton
              v-if="session.may('return-aircraft')"
              :class="f.grounds ? 'back' : 'quiet'"
              :data-return="f.event"
              @click="returning = f"
            >
              {{ f.grounds ? 'Return to service' : 'It is done: close it' }}
            </AppButton>
          </div>
        </article>
        <p v-if="today.aircraft.length" class="within none">
          {{ open.length ? 'Everything else has no open finding.' : 'No aircraft has an open finding.' }}
        </p>
        <p class="soft caution">
          What stands here was measured and decided by people. The handbook and the operator’s rules govern.
        </p>
      </aside>
    </div>
    <BookDialog v-if="booking" v-model="booking" @booked="load" />
    <ReturnDialog
      v-if="returning"
      :model-value="true"
      :finding="returning"
      @update:model-value="returning = null"
      @returned="load"
    />
    <PlannedDialog
      v-if="chosen"
      :model-value="true"
      :planned="chosen"
      @update:model-value="chosen = null"
      @gone="load"
    />
  </div>
</template>

<style scoped>
.back {
  margin-top: 6px;
}

.place {
  min-height: 100%;
  display: flex;
  flex-direction: column;
}

.columns {
  flex: 1;
  display: grid;
  grid-template-columns: minmax(0, 1.8fr) minmax(0, 1fr);
}

main {
  padding: 16px 24px;
}

aside {
  padding: 4px 24px 20px;
  background: var(--sheet);
  border-left: 1px solid var(--hair);
}

.next {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  gap: 8px 20px;
  align-items: center;
  padding: 14px 18px;
  background: var(--live);
  border-left: 3px solid var(--ink);
}

.names {
  display: flex;
  flex-wrap: wrap;
  gap: 0 20px;
  align-items: baseline;
  font-size: 18px;
}

.names b {
  font-size: 26px;
  line-height: 1.3;
}

.act {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
}

.act .button {
  display: inline-flex;
  align-items: center;
  justify-content: center;
  text-decoration: none;
  font-size: 16px;
}

.next .button {
  min-height: 64px;
}

.beside {
  padding: 12px 0 0;
}

.beside .button,
.beside button {
  min-height: 48px;
}

h2 {
  font-size: 18px;
  font-weight: 700;
  padding: 14px 0 8px;
  border-bottom: 1px solid var(--ink);
}

.none {
  padding: 12px 0;
}

.wait {
  display: grid;
  grid-template-columns: 120px minmax(0, 1fr) minmax(0, 1fr);
  gap: 4px 12px;
  align-items: center;
  min-height: 48px;
  border-bottom: 1px solid var(--fine);
  text-decoration: none;
}

.past {
  padding-top: 14px;
}

.past summary {
  cursor: pointer;
  min-height: 40px;
}

.craft {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 12px;
  align-items: baseline;
  padding-top: 12px;
}

.craft b {
  font-size: 18px;
}

.state {
  margin-left: auto;
  font-weight: 700;
}

article {
  padding-bottom: 12px;
  border-bottom: 1px solid var(--fine);
}

.caution {
  font-size: 13px;
  padding-top: 12px;
}

.place > .problem {
  margin: 12px 24px;
}

@media (max-width: 1000px) {
  .columns {
    grid-template-columns: minmax(0, 1fr);
  }

  aside {
    border-left: 0;
    border-top: 1px solid var(--hair);
  }
}

@media (max-width: 600px) {
  main,
  aside {
    padding: 12px;
  }

  .next {
    grid-template-columns: minmax(0, 1fr);
  }

  .wait {
    grid-template-columns: minmax(0, 1fr);
    padding: 8px 0;
  }
}
</style>
