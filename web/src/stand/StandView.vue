<script setup lang="ts">
import { computed, onMounted, onUnmounted, ref, shallowRef } from 'vue'
import { useRouter } from 'vue-router'

import AppButton from '@/base/AppButton.vue'
import AppInput from '@/base/AppInput.vue'
import type { PracticeRun, Schemas } from '@/schema/schemas'
import { ready, rules } from '@/rules/rules'
import ProblemNotice from '@/shared/ProblemNotice.vue'
import TapeRuler from '@/shared/TapeRuler.vue'
import TopBar from '@/shared/TopBar.vue'
import { useTrying } from '@/shared/trying'
import { clockWords } from '@/shared/words'
import StandDebrief from './StandDebrief.vue'
import GaugeStrip from './GaugeStrip.vue'
import StandChoice from './StandChoice.vue'
import StandControls from './StandControls.vue'
import StandDecision from './StandDecision.vue'
import StandItem from './StandItem.vue'
import StandOutside from './StandOutside.vue'
import { useTelling } from './live'
import { fresh, newId, send, type Course } from './practice'
import { useRunning } from './running'
import { useSound } from './sound'

/** The practice stand: engines that behave, what may be wrong with them, a list to work, and a decision. */
const { problem, busy, tried } = useTrying()
const router = useRouter()
const course = shallowRef<Course | null>(null)
const begun = shallowRef<PracticeRun | null>(null)
const score = shallowRef<{ run: PracticeRun; score: Schemas['PracticeScore'] } | null>(null)
/** The practice waits on this device for the school. */
const waits = ref(false)
let id = ''
const sound = useSound()
const running = useRunning(sound.play)
const { panel, seen, guide, seconds, pace, frozen, stands, open, drawn } = running
const telling = useTelling(running)
/** The choice makes scenarios up and names them, for which it takes all of the rules. */
const loaded = ref(false)
onMounted(() =>
  tried(async () => {
    await ready('rules')
    loaded.value = true
  }),
)

/** Where looking is counted, a figure is read only off a gauge that is in view. */
const mode = computed(() => course.value?.modes.find((m) => m.id === begun.value?.mode))
const counted = computed(() => mode.value?.countsLooks)
const back = computed(() => mode.value?.goesBack)

function begin(chosen: Course, scenario: Schemas['StandScenario'], of: string, from = '') {
  return tried(async () => {
    await ready('rules')
    course.value = chosen
    const run = fresh(chosen, scenario, of, from)
    running.begin(chosen, run)
    begun.value = run
    score.value = null
    waits.value = false
    id = newId()
    if (counted.value) running.look(0)
    if (mode.value?.worked) telling.begin(id)
  })
}
const again = () => begin(course.value!, begun.value!.scenario, begun.value!.mode, begun.value!.from)
function leave() {
  telling.end()
  running.end()
  begun.value = null
  score.value = null
}
const act = (deed: Parameters<typeof running.act>[0]) => tried(async () => running.act(deed))
function call(mark: Record<string, unknown>) {
  // What a reading lacks is said beside its boxes.
  if (mark.name === 'reading') return running.act({ call: mark as Schemas['PracticeCall'] })
  return act({ call: mark as Schemas['PracticeCall'] })
}
const decide = (decision: string, why: string) =>
  tried(async () => {
    pace.value = 0
    await telling.settle()
    const ended = rules.standDecide(decision, why)
    telling.end()
    score.value = ended
    waits.value = !(await send({ id, run: ended.run, digest: ended.digest }))
  })
const day = computed(() => {
  const d = begun.value!.scenario.day
  return `${d.engineState}, ${d.oatC} °C, ${d.elevationFt} ft`
})
const wanted = computed(() =>
  mode.value?.explains && mode.value.worked ? (guide.value?.controls ?? []) : [],
)
function key(e: KeyboardEvent) {
  if (!begun.value || score.value || e.target instanceof HTMLInputElement) return
  const n = Number(e.key)
  if (e.key === 'p') pace.value = pace.value ? 0 : 1
  else if (e.key === 's') pace.value = pace.value === 0.25 ? 1 : 0.25
  else if (e.key === '.' && !pace.value) running.step()
  else if (e.key === 'b' && back.value) running.back(10)
  else if (e.key === 'd' && guide.value && (!guide.value.measured || guide.value.kept))
    void call({ name: guide.value.call })
  else if (e.key === 'n') void call({ name: 'abnormal' })
  else if (n > 0 && n <= (panel.value?.gauges.length ?? 0)) running.look(n - 1)
}
onMounted(() => addEventListener('keydown', key))
onUnmounted(() => removeEventListener('keydown', key))
</script>

<template>
  <div class="place">
    <TopBar>
      <b>Stand</b>
      <template v-if="begun">
        <span>{{ course!.type.name }}</span>
        <span class="soft">{{ day }}</span>
        <span data-part="mode">{{ mode!.label.toLowerCase() }}</span>
      </template>
    </TopBar>
    <ProblemNotice v-model="problem" />
    <template v-if="!begun"
      ><StandChoice v-if="loaded" :busy="busy" @begin="begin" @watch="router.push(`/stand/live/${$event}`)"
    /></template>
    <StandDebrief
      v-else-if="score"
      :course="course!"
      :run="score.run"
      :score="score.score"
      :waits="waits"
      @again="again"
      @leave="leave"
    />
    <main v-else class="sided stand">
      <section :class="{ many: panel!.gauges.length > 10 }" aria-label="Gauges">
        <p class="goal">{{ begun.scenario.goal }}</p>
        <GaugeStrip
          v-for="(g, i) in panel!.gauges"
          :key="g.id + g.engine"
          :gauge="g"
          :value="seen!.values[i] ?? 0"
          :beyond="seen!.beyond[i] ?? false"
          :tall="counted ? open.includes(i) : g.id === panel!.gauges[0]!.id"
          :hidden="counted && !open.includes(i)"
          :trace="running.trace(i)"
          :drawn="drawn"
          @look="running.look(i)"
        />
        <p class="soft small ends"><span>90 s ago</span><span>now</span></p>
        <TapeRuler
          v-if="guide"
          class="flow"
          :state="guide.state"
          :live="guide.item"
          @open="call({ name: 'open', item: $event })"
        />
      </section>
      <aside aria-label="Controls">
        <p class="clock">
          <b class="figure" data-part="clock">{{ clockWords(seconds * 1000) }}</b>
          <AppButton class="quiet" data-action="pause" @click="pace = pace ? 0 : 1">
            {{ pace ? 'pause' : 'go on' }}
          </AppButton>
          <AppButton class="quiet" :class="{ on: pace === 0.25 }" @click="pace = pace === 0.25 ? 1 : 0.25">
            slow
          </AppButton>
          <AppButton class="quiet" :disabled="pace > 0" data-action="second" @click="running.step()">
            a second
          </AppButton>
          <AppButton v-if="back" class="quiet" data-action="back" @click="running.back(10)"
            >back 10 s</AppButton
          >
          <AppButton
            class="quiet"
            :class="{ on: sound.on.value }"
            :aria-pressed="sound.on.value"
            data-action="sound"
            @click="sound.toggle"
          >
            {{ sound.on.value ? 'sound on' : 'sound off' }}
          </AppButton>
          <AppButton class="quiet" data-action="leave" @click="leave">another</AppButton>
        </p>
        <AppInput
          v-if="back && !pace"
          class="to"
          type="range"
          min="0"
          :max="Math.floor(seconds)"
          :value="Math.floor(seconds)"
          aria-label="back to second"
          data-action="back-to"
          @change="running.back(seconds - Number(($event.target as HTMLInputElement).value))"
        />
        <p v-if="frozen" class="attend" role="status" data-part="frozen">
          ▲ Your instructor holds the stand.
        </p>
        <p v-else-if="telling.watched.value" class="soft small" data-part="watched">
          Your instructor looks on.
        </p>
        <StandOutside v-if="seen" :seen="seen" :rotor="!panel!.lamps.some((l) => l.id === 'moves')" />
        <StandControls
          :panel="panel!"
          :stands="stands"
          :lamps="seen!.lamps"
          :wanted="wanted"
          :idle="!mode!.worked || frozen"
          @move="(i, v) => tried(async () => running.move(i, v))"
        />
        <p class="soft small">
          p pauses, s slows, b goes back 10 s, d is done, n is not normal, 1 to 9 look at a gauge. A stand
          teaches flows and looking; it is no aircraft time, and no real engine. The handbook governs.
        </p>
        <StandItem v-if="guide" :guide="guide" :mode="mode!" :moment="Math.floor(seconds)" @call="call">
          <StandDecision :busy="busy" @decide="decide" />
        </StandItem>
      </aside>
    </main>
  </div>
</template>

<style scoped>
.stand {
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
}

section {
  display: grid;
  gap: 8px;
  align-content: start;
}

/* Two engines stand side by side. */
.many {
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  column-gap: 16px;
}

.many .goal,
.many .flow,
.many .ends {
  grid-column: 1 / -1;
}

.many .ends {
  display: none;
}

.many :deep(.gauge) {
  grid-template-columns: 112px minmax(0, 1fr);
}

.stand > aside {
  padding-bottom: 0;
}

.goal {
  font-weight: 700;
}

.ends {
  display: flex;
  justify-content: space-between;
  padding-left: 152px;
}

.flow {
  padding-inline: 0;
  border: 0;
}

/* Beside the gauges there is room for the name of one phase. */
.flow :deep(.phase:not(.here) .head) {
  visibility: hidden;
}

.clock {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 4px;
}

.clock b {
  font-size: 22px;
  min-width: 90px;
}

.on {
  font-weight: 700;
}

.to {
  width: 100%;
  accent-color: var(--ink);
}

/* What is read stays in sight of the hand that moves. */
@media (max-width: 1000px) {
  .stand {
    grid-template-columns: minmax(0, 1fr);
  }

  .stand > section {
    position: sticky;
    top: 0;
    z-index: 3;
    max-height: 40vh;
    overflow-y: auto;
    padding-block: 8px;
    background: var(--paper);
    border-bottom: 1px solid var(--hair);
  }

  .ends {
    padding-left: 124px;
  }
}

@media (max-width: 600px) {
  .stand > section {
    max-height: 30vh;
  }
}

@media (min-width: 600px) and (max-width: 1000px) {
  .stand > section {
    grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  }

  .goal,
  .flow,
  .ends {
    grid-column: 1 / -1;
  }
}
</style>
