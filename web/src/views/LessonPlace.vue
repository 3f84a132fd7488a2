<script setup lang="ts">
import { computed, defineAsyncComponent, onMounted, onUnmounted, ref } from 'vue'
import { useRouter } from 'vue-router'

import { Refused } from '../api/client'
import InstrumentPanel from '../parts/InstrumentPanel.vue'
import ItemPanel from '../parts/ItemPanel.vue'
import LiveList from '../parts/LiveList.vue'
import MarkBar from '../parts/MarkBar.vue'
import TimerStrip from '../parts/TimerStrip.vue'
import TapeRuler from '../parts/TapeRuler.vue'
import { useLesson } from '../stores/lesson'
import { useOutbox, type Mark } from '../stores/outbox'
import { switchTheme, theme } from '../theme/theme'
import { clockWords, methodWords } from '../words'

const ErrorDialog = defineAsyncComponent(() => import('../parts/ErrorDialog.vue'))
const FindingDialog = defineAsyncComponent(() => import('../parts/FindingDialog.vue'))
const KeySheet = defineAsyncComponent(() => import('../parts/KeySheet.vue'))

const props = defineProps<{ id: string }>()
const lesson = useLesson()
const outbox = useOutbox()
const router = useRouter()
const problem = ref('')
const dialog = ref<'' | 'error' | 'finding' | 'keys'>('')
const about = ref({ reading: '', words: '' })
const clock = ref(0)
let ticking: ReturnType<typeof setInterval> | undefined

onMounted(async () => {
  window.addEventListener('keydown', key)
  ticking = setInterval(() => (clock.value = lesson.now()), 500)
  try {
    await lesson.load(props.id)
    clock.value = lesson.now()
  } catch (e) {
    problem.value = e instanceof Refused ? e.message : String(e)
  }
})
onUnmounted(() => {
  window.removeEventListener('keydown', key)
  clearInterval(ticking)
})

const flow = computed(() => lesson.state?.opened?.method === 'flow-then-verify')
const isOpen = (name: typeof dialog.value) =>
  computed({ get: () => dialog.value === name, set: (on) => (dialog.value = on ? name : '') })
const errorOpen = isOpen('error')
const findingOpen = isOpen('finding')
const keysOpen = isOpen('keys')

/** The events of each mark on the live item. */
function marksFor(name: string, item: string): Mark[] {
  const done: Mark = { kind: 'item-result', payload: { item, result: 'done' } }
  switch (name) {
    case 'prompted':
      return [{ kind: 'prompt', payload: { item } }, done]
    case 'helped':
      return [{ kind: 'assist', payload: { item } }, done]
    case 'wrong':
      return [{ kind: 'item-result', payload: { item, result: 'wrong' } }]
    case 'self-fixed':
      return [
        flow.value
          ? { kind: 'late', payload: { item, found: 'verification' } }
          : { kind: 'self-correction', payload: { item } },
        done,
      ]
    case 'left-out':
      return [{ kind: 'omitted', payload: { item } }]
    case 'not-fitted':
      return [{ kind: 'not-applicable', payload: { item } }]
  }
  return [done]
}

async function mark(name: string) {
  if (lesson.closed || !lesson.live) return
  if (name === 'undo') return lesson.undo()
  if (name === 'error') return void (dialog.value = 'error')
  if (name === 'finding') return finding('', '')
  const marks = marksFor(name, lesson.live.item.id)
  const next = lesson.places[lesson.liveIndex + 1]
  if (next) marks.push({ kind: 'item-opened', payload: { item: next.item.id } })
  if (next && next.phase !== lesson.live.phase)
    marks.push({ kind: 'phase-closed', payload: { phase: lesson.live.state.phase } })
  await lesson.touch(marks)
}

/** Opens an item; opening the very next one passes an unmarked item as done. */
async function openItem(item: string) {
  if (lesson.closed || item === lesson.live?.item.id) return
  const at = lesson.places.findIndex((p) => p.item.id === item)
  const marks: Mark[] = [{ kind: 'item-opened', payload: { item } }]
  if (at === lesson.liveIndex + 1 && lesson.live && !lesson.live.state.status)
    marks.unshift({
      kind: 'item-result',
      payload: { item: lesson.live.item.id, result: 'done', implied: true },
    })
  await lesson.touch(marks)
}

function step(by: number) {
  const to = lesson.places[lesson.liveIndex + by]
  if (to) void openItem(to.item.id)
}

function phase(by: number) {
  const to = lesson.places.find((p) => p.phase === (lesson.live?.phase ?? 0) + by)
  if (to) void openItem(to.item.id)
}

function finding(reading: string, words: string) {
  about.value = { reading, words }
  dialog.value = 'finding'
}

const keyMarks: Record<string, string> = {
  ' ': 'done',
  p: 'prompted',
  h: 'helped',
  w: 'wrong',
  s: 'self-fixed',
  o: 'left-out',
  n: 'not-fitted',
  e: 'error',
  f: 'finding',
  z: 'undo',
}

function key(e: KeyboardEvent) {
  const typing = e.target instanceof HTMLInputElement || e.target instanceof HTMLTextAreaElement
  if (e.key === 'Escape' && typing) (e.target as HTMLElement).blur()
  if (typing || dialog.value || e.ctrlKey || e.metaKey || e.altKey) return
  if (e.key === ' ' && e.target instanceof HTMLButtonElement) e.target.blur()
  const name = keyMarks[e.key.toLowerCase()]
  const others: Record<string, () => void> = {
    ArrowDown: () => step(1),
    ArrowUp: () => step(-1),
    '[': () => phase(-1),
    ']': () => phase(1),
    '?': () => (dialog.value = 'keys'),
    r: () => document.querySelector<HTMLInputElement>('.boxes input')?.focus(),
    t: () => document.querySelector<HTMLButtonElement>('[data-timer]')?.click(),
    d: () => void router.push(`/lessons/${props.id}/debrief`),
  }
  const other = others[e.key] ?? others[e.key.toLowerCase()]
  if (name) void mark(name)
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
        <b>{{ lesson.view.lesson.student }}</b>
        <span class="soft wide"
          >lesson {{ lesson.view.before + 1 }}, {{ methodWords[lesson.state.opened?.method ?? ''] }}</span
        >
        <span v-if="lesson.view.lesson.runway" class="wide"
          >runway <b>{{ lesson.view.lesson.runway }}</b> {{ lesson.view.lesson.wind }}</span
        >
        <span class="clock mono">{{ clockWords(clock) }}</span>
        <span :class="['soft', { out: outbox.refused.length, attend: outbox.trouble }]" data-part="outbox">{{
          outbox.words
        }}</span>
        <button class="quiet wide" @click="dialog = 'keys'">? keys</button>
        <button class="quiet" @click="switchTheme">{{ theme === 'day' ? 'Night' : 'Day' }}</button>
        <router-link :to="`/lessons/${id}/debrief`" class="button debrief">Debrief</router-link>
      </header>
      <p v-if="lesson.failure" class="problem" role="alert">{{ lesson.failure }}</p>
      <p v-for="r in outbox.refused" :key="r.event.id" class="problem" role="alert">
        A mark ({{ r.event.kind }}) was refused: {{ r.reason }}. It is kept on this device.
      </p>
      <TimerStrip />
      <TapeRuler :state="lesson.state" :live="lesson.live?.item.id" @open="openItem" />
      <div class="middle">
        <LiveList
          :places="lesson.places"
          :index="lesson.liveIndex"
          :before="lesson.view.before"
          :reasons="lesson.view.book.reasons ?? []"
          :aid="lesson.view.aids.find((a) => a.phase === lesson.live?.state.phase)"
          :aloud="lesson.state.opened?.method === 'challenge-and-response'"
          @open="openItem"
        />
        <div v-if="lesson.live" class="side">
          <InstrumentPanel
            v-if="lesson.live.item.check"
            :key="lesson.live.item.id"
            :place="lesson.live"
            @finding="finding"
          />
          <ItemPanel :place="lesson.live" />
        </div>
      </div>
      <MarkBar
        v-if="!lesson.closed"
        :flow="flow"
        :can-undo="lesson.state.lastTouch.length > 0"
        @mark="mark"
      />
      <p v-else class="closedbar soft">
        {{
          lesson.state.seals.length
            ? 'This lesson is signed; it can only be added to.'
            : 'Another instructor’s lesson: you can look.'
        }}
      </p>
      <ErrorDialog v-if="errorOpen" v-model="errorOpen" />
      <FindingDialog v-model="findingOpen" :reading="about.reading" :suggested="about.words" />
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

header {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 0 16px;
  min-height: 50px;
  padding: 2px 24px;
  border-bottom: 1px solid var(--hair);
  font-size: 15px;
}

header b {
  font-size: 17px;
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

@media (max-width: 800px) {
  header {
    padding: 2px 12px;
  }

  .wide {
    display: none;
  }

  .middle {
    grid-template-columns: minmax(0, 1fr);
    grid-template-rows: auto minmax(0, 1fr);
  }

  .side {
    border-left: 0;
    border-top: 1px solid var(--hair);
    padding: 10px 12px;
  }
}

@media (max-width: 560px) {
  .middle {
    display: block;
    overflow: hidden auto;
  }
}
</style>
