<script setup lang="ts">
import { computed, defineAsyncComponent, onMounted, onUnmounted, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import AppButton from '@/base/AppButton.vue'
import InstrumentPanel from '@/lesson/InstrumentPanel.vue'
import ItemPanel from '@/lesson/ItemPanel.vue'
import LiveList from '@/lesson/LiveList.vue'
import MarkBar from '@/lesson/MarkBar.vue'
import TimerStrip from '@/lesson/TimerStrip.vue'
import TapeRuler from '@/shared/TapeRuler.vue'
import { useLesson } from '@/lesson/lesson'
import { useOutbox } from '@/outbox/outbox'
import { lessonOpen } from '@/device/update'
import { heed } from '@/shared/feed'
import { useSession } from '@/shared/session'
import { speakLive, stayAwake, tones } from '@/lesson/aids'
import { beginsNumber, firstBox, letters, missingBox } from '@/lesson/keys'
import { sound } from '@/lesson/sound'
import { switchTheme, theme } from '@/theme/theme'
import { clockWords, dayWords, marks, methodWords, runMarks } from '@/shared/words'
import { inWords } from '@/shared/errors'

const ErrorDialog = defineAsyncComponent(() => import('@/lesson/ErrorDialog.vue'))
const FindingDialog = defineAsyncComponent(() => import('@/lesson/FindingDialog.vue'))
const KeySheet = defineAsyncComponent(() => import('@/lesson/KeySheet.vue'))
const MoreDialog = defineAsyncComponent(() => import('@/lesson/MoreDialog.vue'))

const CalmPage = defineAsyncComponent(() => import('@/lesson/CalmPage.vue'))
const WordsDialog = defineAsyncComponent(() => import('@/lesson/WordsDialog.vue'))

const props = defineProps<{ id: string }>()
const lesson = useLesson()
const outbox = useOutbox()
const session = useSession()
const route = useRoute()
const router = useRouter()
const problem = ref('')
const dialog = ref<'' | 'error' | 'finding' | 'keys' | 'more' | 'words'>('')
const worded = ref('done')
const about = ref({ reading: '', words: '' })
const clock = ref(0)
let ticking: ReturnType<typeof setInterval> | undefined
let close: (() => void) | undefined
let unfollow: (() => void) | undefined
let gone = false

/** Another tablet marks the same lesson: what it marked comes in. */
function elsewhere() {
  lesson.catchUp().catch(() => undefined) // the next change tries again
}

/** Opens the item that was asked for, to decide there. */
function lookAt(item: string) {
  if (lesson.places.some((p) => p.item.id === item) && !lesson.closed) lesson.touch({ name: 'look', item })
}

onMounted(async () => {
  close = lessonOpen()
  window.addEventListener('keydown', key)
  ticking = setInterval(() => (clock.value = lesson.now()), 500)
  try {
    await lesson.load(props.id)
    clock.value = lesson.now()
    if (gone) return
    lookAt(String(route.query.item ?? ''))
    unfollow = heed(elsewhere)
  } catch (e) {
    problem.value = inWords(e)
  }
})
onUnmounted(() => {
  window.removeEventListener('keydown', key)
  clearInterval(ticking)
  gone = true
  close?.()
  unfollow?.()
})

/** A maintenance run: the same instruments, without student and grade. */
const run = computed(() => lesson.view?.lesson.studentId === '')
const flow = computed(() => lesson.state?.opened?.method === 'flow-then-verify')
const isOpen = (name: typeof dialog.value) =>
  computed({ get: () => dialog.value === name, set: (on) => (dialog.value = on ? name : '') })
const errorOpen = isOpen('error')
const findingOpen = isOpen('finding')
const keysOpen = isOpen('keys')
const moreOpen = isOpen('more')
const wordsOpen = isOpen('words')

function mark(name: string) {
  if (lesson.closed || !lesson.live) return
  if (name === 'error' || name === 'more') dialog.value = name
  else if (name === 'finding') finding('', '')
  else {
    void lesson.touch({ name })
    if (tones.value) sound('marked')
  }
}

function withWords(name: string) {
  if (lesson.closed) return
  worded.value = name
  dialog.value = 'words'
}

/** While the aircraft moves under the user's hands the calm page lies over the list. */
const calm = ref(false)
watch(
  () => lesson.live?.moving,
  (moving) => moving || (calm.value = false), // the phase releases it
)
const live = computed(() => lesson.live?.item.challenge ?? '')
speakLive(live)
stayAwake()

function openItem(item: string) {
  if (!lesson.closed) lesson.touch({ name: 'open', item })
}

function step(by: number) {
  const to = lesson.places[lesson.liveIndex + by]
  if (to) openItem(to.item.id)
}

function phase(by: number) {
  const to = lesson.places.find((p) => p.phase === (lesson.live?.phase ?? 0) + by)
  if (to) openItem(to.item.id)
}

function finding(reading: string, words: string) {
  about.value = { reading, words }
  dialog.value = 'finding'
}

/** The session has ended at the school: the lesson is kept, and comes back after the sign-in. */
async function signInAgain() {
  session.expire()
  await router.push({ path: '/sign-in', query: { to: `/lessons/${props.id}` } })
}

const inRun = [...runMarks.map((m) => m.id), 'more', 'finding', 'undo']
const keyMarks: Record<string, string> = Object.fromEntries([
  ...marks.map((m) => [m.key, m.id]),
  ['e', 'error'],
  ['f', 'finding'],
  ['z', 'undo'],
  ['m', 'more'],
  ['c', 'pass-phase'],
])

function key(e: KeyboardEvent) {
  const typing = e.target instanceof HTMLInputElement || e.target instanceof HTMLTextAreaElement
  if (e.key === 'Escape' && typing) (e.target as HTMLElement).blur()
  if (calm.value && e.key.toLowerCase() !== 'x') return
  if (typing || dialog.value || e.ctrlKey || e.metaKey || e.altKey) return
  if (e.key === ' ' && e.target instanceof HTMLButtonElement && e.target.matches(':focus-visible')) return
  if (/^[a-z]$/i.test(e.key) && !letters.value) return
  const missing = missingBox()
  if (missing && beginsNumber(e.key)) return missing.focus() // the key goes on, into the box
  const meant = keyMarks[e.key.toLowerCase()]
  const name = meant && run.value && !inRun.includes(meant) ? undefined : meant
  const others: Record<string, () => void> = {
    ArrowDown: () => step(1),
    ArrowUp: () => step(-1),
    '[': () => phase(-1),
    ']': () => phase(1),
    '?': () => (dialog.value = 'keys'),
    // The key itself must not end up in the box.
    r: () => setTimeout(() => firstBox()?.focus(), 20),
    t: () => document.querySelector<HTMLButtonElement>('[data-timer]')?.click(),
    x: () => (calm.value = !calm.value && lesson.live?.moving === true),
    d: () => void router.push(`/lessons/${props.id}/debrief`),
  }
  const other = others[e.key] ?? others[e.key.toLowerCase()]
  if (name) mark(name)
  else if (/^[1-4]$/.test(e.key)) document.querySelector<HTMLButtonElement>(`[data-oral="${e.key}"]`)?.click()
  else if (other) other()
  else return
  e.preventDefault()
}
</script>

<template>
  <div class="place">
    <p v-if="problem" class="problem" role="alert">
      {{ problem }} <router-link to="/today">Back to Today</router-link>
    </p>
    <template v-if="lesson.view && lesson.state && lesson.view.lesson.id === id">
      <header>
        <router-link to="/today" class="back" aria-label="Back to Today">‹</router-link>
        <b>{{ lesson.view.lesson.registration }}</b>
        <span class="soft wide">{{ lesson.view.book.type.name }}</span>
        <b>{{ run ? 'maintenance run' : lesson.view.lesson.student }}</b>
        <span v-if="run" class="soft wide">{{ lesson.view.lesson.instructor }}</span>
        <span v-else class="soft wide"
          >lesson {{ lesson.view.before + 1 }}, {{ methodWords[lesson.state.opened?.method ?? ''] }}</span
        >
        <span v-if="lesson.view.lesson.runway" class="wide"
          >runway <b>{{ lesson.view.lesson.runway }}</b> {{ lesson.view.lesson.wind }}</span
        >
        <span v-if="lesson.state.opened?.paper" class="clock soft"
          >from paper, {{ dayWords(lesson.state.opened.paper.day) }}</span
        >
        <span v-else class="clock figure">{{ clockWords(clock) }}</span>
        <span
          :class="['kept soft', { out: outbox.refused.length, attend: outbox.trouble }]"
          data-part="outbox"
          :data-local="outbox.counted ? outbox.waiting : undefined"
          >{{ outbox.words }}</span
        >
        <AppButton
          v-if="lesson.live?.moving && !lesson.closed && !run"
          class="eyes"
          data-action="eyes-outside"
          @click="calm = true"
        >
          I taxi: eyes outside
        </AppButton>
        <AppButton v-if="outbox.expired" class="attend" data-action="sign-in-again" @click="signInAgain">
          Sign in again
        </AppButton>
        <AppButton class="quiet wide" @click="dialog = 'keys'">? keys</AppButton>
        <AppButton class="quiet" @click="switchTheme">{{ theme === 'day' ? 'Dark' : 'Bright' }}</AppButton>
        <router-link :to="`/lessons/${id}/debrief`" class="button debrief">{{
          run ? 'Sheet' : 'Debrief'
        }}</router-link>
      </header>
      <p v-if="lesson.failure" class="problem" role="alert">{{ lesson.failure }}</p>
      <p v-if="lesson.view.lesson.flag" class="attend flag" data-part="flag">
        ▲ This lesson was {{ lesson.view.lesson.flag }}.
      </p>
      <p v-for="r in outbox.refused" :key="r.id" class="problem" role="alert" data-part="refused">
        A mark ({{ r.event.kind }}) was refused: {{ r.reason }}. It is kept on this device.
        <AppButton class="quiet" data-action="send-again" @click="outbox.again(r)">send it again</AppButton>
        <AppButton class="quiet" data-action="let-go" @click="outbox.letGo(r)">let it go</AppButton>
      </p>
      <TimerStrip />
      <TapeRuler :state="lesson.state" :live="lesson.live?.item.id" @open="openItem" />
      <div :class="['middle', { roomy: !lesson.live?.item.check }]">
        <LiveList
          :class="{ roomy: !lesson.live?.item.check }"
          :places="lesson.places"
          :index="lesson.liveIndex"
          :before="lesson.view.before"
          :aid="lesson.view.kit.aids.find((a) => a.phase === lesson.live?.state.phase)"
          :aloud="lesson.state.opened?.method === 'challenge-and-response'"
          :closed="lesson.closed"
          :run="run"
          @open="openItem"
          @pass="lesson.touch({ name: 'pass-phase' })"
        />
        <div v-if="lesson.live" class="side">
          <InstrumentPanel
            v-if="lesson.live.item.check"
            :key="lesson.live.item.id"
            :place="lesson.live"
            @finding="finding"
          />
          <ItemPanel v-if="!run" :place="lesson.live" />
        </div>
      </div>
      <MarkBar
        v-if="!lesson.closed"
        :run="run"
        :flow="flow"
        :can-undo="lesson.state.lastTouch.length > 0"
        @mark="mark"
        @words="withWords"
      />
      <p v-else class="closedbar soft">
        {{
          run
            ? lesson.state.seals.length
              ? 'This run is signed.'
              : 'Another person’s run: you can look.'
            : lesson.state.seals.length
              ? 'This lesson is signed; it can only be added to.'
              : 'Another instructor’s lesson: you can look.'
        }}
      </p>
      <CalmPage
        v-if="calm && !lesson.closed"
        :clock="clock"
        @mark="(name) => lesson.touch({ name })"
        @leave="calm = false"
      />
      <WordsDialog v-if="wordsOpen" v-model="wordsOpen" :mark="worded" />
      <ErrorDialog v-if="errorOpen" v-model="errorOpen" />
      <FindingDialog v-model="findingOpen" :reading="about.reading" :suggested="about.words" />
      <MoreDialog v-if="moreOpen" v-model="moreOpen" />
      <KeySheet v-if="keysOpen" v-model="keysOpen" />
    </template>
  </div>
</template>

<style scoped>
.place {
  height: 100dvh;
  display: flex;
  flex-direction: column;
  overflow: hidden;
}

/* Nothing that changes by itself moves the list under a finger: what is said of
   the marks has its place, whatever it says. */
header {
  display: flex;
  align-items: center;
  gap: 0 16px;
  height: 54px;
  white-space: nowrap;
  padding: 2px 24px;
  border-bottom: 1px solid var(--hair);
  font-size: 15px;
}

header b {
  font-size: 17px;
}

header span.wide,
.kept {
  max-height: 51px;
  overflow: hidden;
  font-size: 14px;
  line-height: 17px;
  white-space: normal;
}

header button,
header .button {
  flex-shrink: 0;
}

.kept {
  flex: 0 1 220px;
  min-width: 160px;
}

.back {
  font-size: 26px;
  text-decoration: none;
  padding: 4px 8px 8px 0;
}

.clock {
  margin-left: auto;
  font-size: 20px;
}

.eyes {
  min-height: 40px;
  padding: 4px 12px;
}

.debrief {
  min-height: 40px;
  padding: 8px 14px;
  text-decoration: none;
  line-height: 1.4;
}

.middle {
  flex: 1;
  min-height: 0;
  display: grid;
  grid-template-columns: minmax(0, 7fr) minmax(0, 9fr);
}

/* A touch changes the side only: what stands beside it is neither laid out nor
   painted again. */
.place > :not(.middle),
.middle > * {
  contain: content;
}

.side {
  background: var(--sheet);
  border-left: 1px solid var(--hair);
  padding: 8px 24px;
  overflow: hidden auto;
  display: flex;
  flex-direction: column;
  gap: 8px;
}

.closedbar {
  padding: 16px 24px;
  border-top: 1px solid var(--hair);
}

@media (max-width: 1150px) {
  header span.wide {
    display: none;
  }
}

@media (max-width: 800px) {
  header {
    flex-wrap: wrap;
    height: auto;
    padding: 2px 12px;
  }

  header .wide {
    display: none;
  }

  .kept {
    flex: 1 0 100%;
    order: 1;
    height: 17px;
  }

  .middle {
    grid-template-columns: minmax(0, 1fr);
    grid-template-rows: auto minmax(0, 1fr);
  }

  .middle.roomy {
    grid-template-rows: minmax(0, 1fr) fit-content(38%);
  }

  .side {
    border-left: 0;
    border-top: 1px solid var(--hair);
    padding: 10px 12px;
  }
}

@media (max-width: 560px) {
  .kept {
    height: 34px;
  }

  .middle:not(.roomy) {
    display: block;
    overflow: hidden auto;
  }
}
</style>
