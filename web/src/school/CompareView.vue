<script setup lang="ts">
import 'element-plus/es/components/progress/style/css'

import { ElProgress } from 'element-plus'
import { computed, onBeforeUnmount, onMounted, ref, shallowRef } from 'vue'

import { api, take } from '@/api/client'
import AppButton from '@/base/AppButton.vue'
import type { Schemas } from '@/schema/schemas'
import GradeCurves from '@/school/GradeCurves.vue'
import ProblemNotice from '@/shared/ProblemNotice.vue'
import MadeAt from '@/shared/MadeAt.vue'
import TopBar from '@/shared/TopBar.vue'
import { count, dayWords } from '@/shared/words'
import { useTrying } from '@/shared/trying'

/** How instructors grade: as it was graded, and with students and items taken out of it. */
const { problem, busy, tried } = useTrying()
const view = shallowRef<Schemas['ComparedView'] | null>(null)
const fair = ref(true)
const chosen = ref('')
const done = ref(0)
let stopped = new AbortController()
const load = () =>
  tried(async () => {
    stopped = new AbortController()
    done.value = 0
    const ask = setInterval(() => void far(), 500)
    try {
      view.value = await take(api.GET('/api/v1/compare', { signal: stopped.signal }))
    } finally {
      clearInterval(ask)
    }
  })
/** How far the comparison is, in hundredths; nothing where it cannot be asked. */
async function far() {
  const answer = await api.GET('/api/v1/compare/progress').catch(() => undefined)
  if (answer?.data?.working) done.value = Math.round(100 * answer.data.done)
}
onMounted(load)
onBeforeUnmount(() => stopped.abort())

/** Where a number lies on the strip, in hundredths of its width. */
const span = computed(() => {
  const lines = view.value?.lines ?? []
  if (!fair.value) return { low: 0, high: 4 }
  const far = Math.max(1, ...lines.flatMap((l) => [Math.abs(l.low), Math.abs(l.high)]))
  return { low: -far, high: far }
})
const x = (v: number) => (100 * (v - span.value.low)) / (span.value.high - span.value.low)
const drawn = computed(() =>
  (view.value?.lines ?? []).map((l) => {
    const [low, at, high] = fair.value ? [l.low, l.severity, l.high] : [l.meanLow, l.mean, l.meanHigh]
    return { ...l, from: x(low), at: x(at), to: x(high), leaves: fair.value && l.stands.length > 0 }
  }),
)
const marks = computed(() => (fair.value ? [x(0)] : [0, 1, 2, 3, 4].map(x)))
const told = (l: Schemas['CompareLine']) =>
  fair.value
    ? `${l.severity > 0 ? '+' : ''}${l.severity.toFixed(2)}, ${l.low.toFixed(2)} to ${l.high.toFixed(2)}`
    : `${l.mean.toFixed(2)}, ${l.meanLow.toFixed(2)} to ${l.meanHigh.toFixed(2)}`
const curve = computed(() => view.value?.lines.find((l) => l.id === chosen.value) ?? null)
</script>

<template>
  <div class="place">
    <TopBar>
      <b>Instructors, compared fairly</b>
      <span v-if="view" class="soft"
        >{{ count(view.grades, 'grade') }} since {{ dayWords(view.from) }},
        {{ count(view.students, 'student') }}</span
      >
      <template #side>
        <AppButton :class="['quiet', { on: !fair }]" data-view="raw" @click="fair = false"
          >as graded</AppButton
        >
        <AppButton :class="['quiet', { on: fair }]" data-view="fair" @click="fair = true">fair</AppButton>
        <a href="/api/v1/compare.csv" download>Export</a>
      </template>
    </TopBar>
    <ProblemNotice v-model="problem" />
    <p v-if="busy" class="said" role="status">
      Comparing; this takes some seconds for many grades.
      <ElProgress class="far" :percentage="done" data-part="progress" />
      <AppButton class="quiet" data-action="stop" @click="stopped.abort()">Stop</AppButton>
    </p>
    <p v-else-if="!view" class="said">
      Nothing is compared. <AppButton class="quiet" data-action="again" @click="load">Compare</AppButton>
    </p>
    <main v-if="view" class="sided">
      <section>
        <template v-if="drawn.length">
          <h2>{{ fair ? 'The same lesson would get from each' : 'What each has graded' }}</h2>
          <p class="soft small">
            {{
              fair
                ? 'A student of the school’s middle, an item of the school’s middle. Line: 95 of 100 times it lies within.'
                : 'Whoever teaches beginners grades lower here, and is not stricter for it. Line: 95 of 100 times the mean lies within.'
            }}
            <MadeAt :of="view" />
          </p>
          <div class="row ends soft small">
            <span /><span />
            <span class="strip"
              ><i>{{ fair ? 'softer' : 'level 0' }}</i
              ><b v-if="fair">middle</b><i>{{ fair ? 'stricter' : 'level 4' }}</i></span
            >
            <span />
          </div>
          <AppButton
            v-for="l in drawn"
            :key="l.id"
            class="row line"
            :data-instructor="l.id"
            :aria-pressed="chosen === l.id"
            @click="chosen = chosen === l.id ? '' : l.id"
          >
            <b>{{ l.name }}</b>
            <span class="soft small"
              >{{ count(l.grades, 'grade')
              }}<template v-if="l.alone"><br />group {{ l.group }}</template></span
            >
            <svg viewBox="0 0 100 20" preserveAspectRatio="none" role="img" :aria-label="told(l)">
              <line v-for="m in marks" :key="m" :x1="m" :x2="m" y1="0" y2="20" class="mark" />
              <line
                :x1="l.from"
                :x2="l.to"
                y1="10"
                y2="10"
                :class="['interval', { attend: l.leaves, alone: l.alone }]"
              />
              <line
                :x1="l.at"
                :x2="l.at + 0.01"
                y1="10"
                y2="10"
                :class="['dot', { attend: l.leaves, alone: l.alone }]"
              />
            </svg>
            <span class="attend small">{{ l.stands.map((s) => `▲ ${s}`).join(' ') }}</span>
          </AppButton>
        </template>
        <p v-else class="soft">
          {{
            view.all
              ? 'No lesson with grades was signed since then.'
              : 'You have graded no lesson that was signed since then.'
          }}
        </p>
        <template v-if="view.words.length">
          <h3 class="ruled">In words</h3>
          <p v-for="w in view.words" :key="w" data-part="words">{{ w }}</p>
        </template>
        <p class="soft">{{ view.caution }}</p>
      </section>
      <aside>
        <template v-if="view.coGrade.length">
          <h3 class="ruled">Who should co-grade</h3>
          <p v-for="c in view.coGrade" :key="c.instructor.id + c.with.id" class="pair" data-part="co-grade">
            <b>{{ c.instructor.name }} with {{ c.with.name }}</b>
            <span class="soft small">{{ c.why }}</span>
            <router-link v-if="c.student" :to="`/students/${c.student.id}`" class="small"
              >{{ c.student.name }}’s page</router-link
            >
          </p>
        </template>
        <GradeCurves v-if="view.lines.length" :view="view" :line="curve" />
        <p class="soft small">
          A grade says something of the student, of the item, and of who graded. The comparison takes the
          first two out, from lessons that instructors’ students share. An item passed by opening the next
          counts for nobody.
        </p>
      </aside>
    </main>
  </div>
</template>

<style scoped>
.far {
  max-width: 320px;
}

h2 {
  font-size: 18px;
  font-weight: 700;
}

h3 {
  margin-top: 14px;
}

.row {
  display: grid;
  grid-template-columns: 150px 90px minmax(0, 1fr) 90px;
  gap: 12px;
  align-items: center;
  width: 100%;
  text-align: left;
}

.line {
  border: 0;
  border-bottom: 1px solid var(--fine);
  min-height: 48px;
  padding: 0;
}

.line[aria-pressed='true'] {
  background: var(--live);
}

.strip i {
  font-style: normal;
}

.strip {
  display: flex;
  justify-content: space-between;
}

svg {
  width: 100%;
  height: 40px;
}

.mark {
  stroke: var(--hair);
  vector-effect: non-scaling-stroke;
}

.interval {
  stroke: var(--ink);
  stroke-width: 3;
  vector-effect: non-scaling-stroke;
}

.dot {
  stroke: var(--ink);
  stroke-width: 14;
  stroke-linecap: round;
  vector-effect: non-scaling-stroke;
}

svg .attend {
  stroke: var(--attend);
}

.interval.alone {
  stroke-dasharray: 3 3;
}

.dot.alone {
  stroke: var(--soft);
}

.pair {
  display: grid;
}

.said {
  margin: 12px 24px;
}

.on {
  font-weight: 700;
  color: var(--ink) !important;
}

@media (max-width: 600px) {
  .row {
    grid-template-columns: minmax(0, 1fr) auto;
    padding: 6px 0;
  }

  .row > svg,
  .ends .strip {
    grid-column: 1 / -1;
    order: 3;
  }

  .ends > span:empty {
    display: none;
  }
}
</style>
