<script setup lang="ts">
import { computed, onMounted, onUnmounted, shallowRef } from 'vue'

import { api, take, type Schemas } from '@/api/client'
import { ready, rules } from '@/rules/rules'
import ProblemNotice from '@/shared/ProblemNotice.vue'
import TopBar from '@/shared/TopBar.vue'
import { useTrying } from '@/shared/trying'
import { clockWords } from '@/shared/words'
import GaugeStrip from './GaugeStrip.vue'
import PanelControl from './PanelControl.vue'
import { useRunning } from './running'
import { useSound } from './sound'
import StandChoice from './StandChoice.vue'
import StandDecision from './StandDecision.vue'

/** The practice stand: engines that behave, what may be wrong with them, and a decision. */
const { problem, busy, tried } = useTrying()
const kit = shallowRef<Schemas['StandView'] | null>(null)
const scenario = shallowRef<Schemas['StandScenario'] | null>(null)
const answer = shallowRef<Schemas['StandAnswer'] | null>(null)
const sound = useSound()
const running = useRunning(sound.play)
const { panel, values, beyond, lamps, seconds, pace, stands, drawn } = running
onMounted(() => tried(ready))

function begin(chosen: Schemas['StandView'], one: Schemas['StandScenario']) {
  return tried(async () => {
    await ready()
    kit.value = chosen
    scenario.value = one
    answer.value = null
    running.begin(chosen, one, Math.floor(Math.random() * 1e9))
  })
}
function leave() {
  running.end()
  scenario.value = null
}
const decide = (decision: string) =>
  tried(async () => {
    pace.value = 0
    const body = { run: rules.standRun(), decision }
    answer.value = await take(api.POST('/api/v1/stand-runs', { body }))
  })
/** The controls by where they stand, each with its number on the panel. */
const groups = computed(() => {
  const out: { name: string; controls: { at: number; control: Schemas['StandPanelControl'] }[] }[] = []
  panel.value?.controls.forEach((control, at) => {
    if (out.at(-1)?.name !== control.group) out.push({ name: control.group, controls: [] })
    out.at(-1)!.controls.push({ at, control })
  })
  return out
})
const day = computed(() => {
  const d = scenario.value!.day
  return `${d.engineState}, ${d.oatC} °C, ${d.elevationFt} ft`
})
function key(e: KeyboardEvent) {
  if (!scenario.value || answer.value || e.target instanceof HTMLInputElement) return
  if (e.key === 'p') pace.value = pace.value ? 0 : 1
  else if (e.key === 's') pace.value = pace.value === 0.25 ? 1 : 0.25
  else if (e.key === '.' && !pace.value) running.step(50)
  else if (e.key === 'b') running.back(10)
}
onMounted(() => addEventListener('keydown', key))
onUnmounted(() => removeEventListener('keydown', key))
</script>

<template>
  <div class="place">
    <TopBar>
      <b>Stand</b>
      <template v-if="scenario">
        <span>{{ kit!.type.name }}</span>
        <span class="soft">{{ day }}</span>
      </template>
    </TopBar>
    <ProblemNotice v-model="problem" />
    <StandChoice v-if="!scenario" :busy="busy" @begin="begin" />
    <main v-else class="sided stand">
      <section aria-label="Gauges">
        <p class="goal">{{ scenario.goal }}</p>
        <GaugeStrip
          v-for="(g, i) in panel!.gauges"
          :key="g.id + g.engine"
          :gauge="g"
          :value="values[i] ?? 0"
          :beyond="beyond[i] ?? false"
          :tall="g.id === panel!.gauges[0]!.id"
          :trace="running.trace(i)"
          :drawn="drawn"
        />
        <p class="soft small ends"><span>90 s ago</span><span>now</span></p>
      </section>
      <aside aria-label="Controls">
        <p class="clock">
          <b class="figure" data-part="clock">{{ clockWords(seconds * 1000) }}</b>
          <button class="quiet" data-action="pause" @click="pace = pace ? 0 : 1">
            {{ pace ? 'pause' : 'go on' }}
          </button>
          <button class="quiet" :class="{ on: pace === 0.25 }" @click="pace = pace === 0.25 ? 1 : 0.25">
            slow
          </button>
          <button class="quiet" :disabled="pace > 0" @click="running.step(50)">a second</button>
          <button class="quiet" data-action="back" @click="running.back(10)">back 10 s</button>
          <button
            class="quiet"
            :class="{ on: sound.on.value }"
            :aria-pressed="sound.on.value"
            data-action="sound"
            @click="sound.toggle"
          >
            {{ sound.on.value ? 'sound on' : 'sound off' }}
          </button>
          <button class="quiet" data-action="leave" @click="leave">another</button>
        </p>
        <p v-if="panel!.lamps.length" class="lamps">
          <span v-for="(l, i) in panel!.lamps" :key="l.id + l.engine" :class="lamps[i] ? 'attend' : 'soft'"
            >{{ lamps[i] ? '▲' : '○' }} {{ l.label }}</span
          >
        </p>
        <div v-for="g in groups" :key="g.name" class="group">
          <span class="soft small">{{ g.name }}</span>
          <div class="controls">
            <PanelControl
              v-for="c in g.controls"
              :key="c.at"
              :control="c.control"
              :at="stands[c.at]!"
              @move="running.move(c.at, $event)"
            />
          </div>
        </div>
        <StandDecision
          :answer="answer"
          :busy="busy"
          @decide="decide"
          @again="begin(kit!, scenario)"
          @leave="leave"
        />
        <p class="soft small">
          p pauses, s slows, b goes back 10 s. A stand teaches flows and looking; it is no aircraft time, and
          no real engine. The handbook governs.
        </p>
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

.goal {
  font-weight: 700;
}

.ends {
  display: flex;
  justify-content: space-between;
  padding-left: 152px;
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

.lamps {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 20px;
}

.controls {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  align-items: end;
}

/* What is read stays in sight of the hand that moves. */
@media (max-width: 1000px) {
  .stand {
    grid-template-columns: minmax(0, 1fr);
  }

  .stand > section {
    position: sticky;
    top: 0;
    z-index: 2;
    max-height: 46vh;
    overflow-y: auto;
    padding-block: 8px;
    background: var(--paper);
    border-bottom: 1px solid var(--hair);
  }

  .ends {
    padding-left: 124px;
  }
}

@media (min-width: 600px) and (max-width: 1000px) {
  .stand > section {
    grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  }

  .goal,
  .ends {
    grid-column: 1 / -1;
  }
}
</style>
