<script setup lang="ts">
import { computed, onMounted, ref, watch } from 'vue'

import { api, take } from '@/api/client'
import AppButton from '@/base/AppButton.vue'
import AppInput from '@/base/AppInput.vue'
import type { Schemas, StudentView } from '@/schema/schemas'
import AppDialog from '@/shared/AppDialog.vue'
import ForecastStrip from '@/student/ForecastStrip.vue'
import HistoryTicks from '@/student/HistoryTicks.vue'
import ShareDialog from '@/student/ShareDialog.vue'
import LessonLine from '@/today/LessonLine.vue'
import PracticeList from '@/stand/PracticeList.vue'
import StandingBar from '@/shared/StandingBar.vue'
import ProblemNotice from '@/shared/ProblemNotice.vue'
import TopBar from '@/shared/TopBar.vue'
import { useSession } from '@/shared/session'
import { dayWords, markWords, shape, standingTone, standingWords } from '@/shared/words'
import { useTrying } from '@/shared/trying'

const props = defineProps<{ id: string }>()
const session = useSession()
const view = ref<StudentView | null>(null)
const { problem, tried } = useTrying()
const sharing = ref(false)
const asOf = ref(session.current?.today ?? '')

function load() {
  return tried(async () => {
    view.value = await take(
      api.GET('/api/v1/students/{id}', {
        params: { path: { id: props.id }, query: asOf.value ? { asOf: asOf.value } : {} },
      }),
    )
    problem.value = ''
  })
}
onMounted(load)
watch(asOf, load)

/** What was practised on the stand: it is shown, and stands in no standing unless the school lets it. */
const practised = ref<Schemas['StorePracticeRun'][]>([])
onMounted(async () => {
  if (!session.may('practices')) return
  practised.value = await take(
    api.GET('/api/v1/practice', { params: { query: { person: props.id } } }),
  ).catch(() => [])
})

const r = computed(() => view.value!.readiness)
const why = (element: string) => r.value.missing.find((m) => m.element === element)?.why ?? ''
/** A standing that is as it should be needs no shape. */
const marked = (standing: string) =>
  `${standingTone(standing) === 'within' ? '' : shape(standingTone(standing))} ${standingWords[standing]}`
/** The element whose lessons are listed. */
const opened = ref('')
const closing = ref<Schemas['CriticalView'] | null>(null)
const reason = ref('')
function close() {
  return tried(async () => {
    const body = { lesson: closing.value!.lesson, item: closing.value!.item, why: reason.value.trim() }
    await take(api.POST('/api/v1/students/{id}/criticals', { params: { path: { id: props.id } }, body }))
    closing.value = null
    reason.value = ''
    await load()
  })
}
const codesOf = (elements: string[]) =>
  elements
    .map((e) => r.value.missing.find((m) => m.element === e))
    .map((m) => m?.code?.replace('PA.', '') || m?.text)
</script>

<template>
  <div class="place">
    <TopBar>
      <b>{{ view?.student.name ?? 'Student' }}</b>
      <span v-if="view" class="soft"
        >with {{ view.student.instructor }} since {{ dayWords(view.student.startedOn) }}</span
      >
      <template #side>
        <AppButton
          v-if="session.may('share-record')"
          class="quiet"
          data-action="share-record"
          @click="sharing = true"
        >
          Share
        </AppButton>
        <span class="soft">standing as of</span>
        <AppInput
          v-model="asOf"
          type="date"
          name="as-of"
          required
          :max="session.current?.today"
          aria-label="standing as of"
        />
      </template>
    </TopBar>
    <ProblemNotice v-model="problem" />
    <ShareDialog v-if="sharing && view" v-model="sharing" :student="id" :name="view.student.name" />
    <AppDialog
      :model-value="!!closing"
      :title="`Close the critical error “${closing?.words ?? ''}”`"
      @update:model-value="closing = null"
    >
      <form @submit.prevent="close">
        <label
          >Why it is closed though no two later lessons answered it
          <AppInput v-model="reason" type="text" name="close-why" maxlength="1000"
        /></label>
        <AppButton
          class="primary closing"
          type="submit"
          :disabled="!reason.trim()"
          data-action="close-critical"
        >
          Close it, in my name
        </AppButton>
      </form>
    </AppDialog>
    <div v-if="view" class="columns">
      <main>
        <h1 data-part="readiness">
          {{
            r.ready
              ? 'Ready for the checkride standards'
              : r.missing.length
                ? `Not ready yet: ${r.missing.length} of ${r.required} ${r.missing.length === 1 ? 'stands' : 'stand'} in the way`
                : 'Not ready yet: every element is to standard, something else is open'
          }}
        </h1>
        <p v-if="view.stuck" class="attend" data-part="stuck">▲ {{ view.stuck }}</p>
        <p v-for="b in r.blocks" :key="b" class="attend">▲ {{ b }}</p>
        <p v-if="session.may('decide-critical') && view.criticals.length" class="small">
          Where its condition does not come again, the chief instructor decides:
          <AppButton
            v-for="c in view.criticals"
            :key="c.lesson + c.item"
            class="quiet close"
            :data-close="c.item"
            @click="closing = c"
          >
            close “{{ c.words }}” of {{ dayWords(c.on) }}
          </AppButton>
        </p>
        <p v-if="r.notRequired.length" class="soft small">
          Nothing on the aircraft flown can show: {{ r.notRequired.join('; ') }}. It is not asked for.
        </p>
        <section v-for="task in view.tasks" :key="task.pack + task.title">
          <h2 class="soft">{{ task.title }}</h2>
          <div v-for="e in task.elements" :key="e.id" class="element" :data-element="e.id">
            <span class="figure small soft">{{ e.code.replace('PA.', '') }}</span>
            <span
              >{{ e.text }}<small v-if="why(e.id)" class="soft">{{ why(e.id) }}</small></span
            >
            <AppButton
              class="quiet history"
              :disabled="!e.history.length"
              :aria-expanded="opened === e.id"
              :aria-label="`${e.history.length} lessons showed ${e.text}`"
              @click="opened = opened === e.id ? '' : e.id"
            >
              <HistoryTicks :history="e.history" :from="view.student.startedOn" :to="view.asOf" />
            </AppButton>
            <StandingBar :standing="e.standing" />
            <b :class="standingTone(e.standing)"
              >{{ marked(e.standing) }}<small v-if="e.slip" class="attend">▲ a slip; it stands</small
              ><small v-if="e.soon" class="attend">▲ lapses on {{ dayWords(e.lapsesOn) }}</small></b
            >
            <ol v-if="opened === e.id" class="shown small">
              <li v-for="h in e.history.toReversed()" :key="h.lesson">
                <router-link :to="`/lessons/${h.lesson}/debrief`">{{ dayWords(h.date) }}</router-link>
                level {{ h.level }}, {{ h.implied ? 'only passed' : (markWords[h.mark] ?? h.mark)
                }}{{ h.items > 1 ? `, ${h.items} items` : '' }}
              </li>
            </ol>
          </div>
        </section>
      </main>
      <aside>
        <h2>What closes it</h2>
        <p v-if="!r.plan.length" class="soft">
          {{ r.ready ? 'Nothing is missing.' : 'No kind of lesson shows what is missing.' }}
        </p>
        <div v-for="(step, i) in r.plan" :key="i" class="step">
          <b>{{ i === 0 ? 'Next: ' : '' }}{{ step.title }}</b>
          <p v-if="step.elements.length" class="soft small">
            shows {{ codesOf(step.elements).slice(0, 8).join(', ')
            }}{{ step.elements.length > 8 ? ` and ${step.elements.length - 8} more` : '' }}
          </p>
        </div>
        <template v-if="!r.ready">
          <h2>How long it may take</h2>
          <ForecastStrip :forecast="view.forecast" />
        </template>
        <template v-if="view.checks.length">
          <h2>Stage checks</h2>
          <p v-for="c in view.checks" :key="c.lesson" class="step" :data-check="c.lesson">
            <router-link :to="`/lessons/${c.lesson}/debrief`">{{ dayWords(c.on) }}</router-link>
            <b :class="c.passed ? 'within' : 'attend'"> {{ c.passed ? '● passed' : '▲ not passed' }}</b>
            <span class="soft small"
              >, {{ c.title }}, with {{ c.instructor
              }}{{ c.until ? `; counts until ${dayWords(c.until)}` : '' }}</span
            >
          </p>
        </template>
        <h2>To go through alone</h2>
        <p v-if="!view.practise.length" class="soft">Nothing that was shown is likely forgotten by now.</p>
        <ol v-else class="practise" data-part="practise">
          <li v-for="p in view.practise" :key="p.item" :data-practise="p.item">
            <b>{{ p.words }}</b> <span class="soft small">{{ p.phase }}</span>
            <span class="figure known">{{ Math.round(100 * p.known) }} %</span>
            <small class="soft">{{ p.why }}</small>
          </li>
        </ol>
        <p v-if="view.practise.length" class="soft small">
          How likely each is still done unprompted, by how often it was right and how long ago it was shown:
          {{
            view.fitted
              ? `fitted to ${view.fitted} of the school’s own answers.`
              : 'with general constants, until the school has seen enough of its own.'
          }}
        </p>
        <template v-if="practised.length">
          <h2>On the stand</h2>
          <PracticeList :runs="practised.slice(0, 5)" />
          <p class="soft small">Practice is shown, and is no aircraft time.</p>
        </template>
        <h2>Lessons</h2>
        <p v-if="!view.lessons.length" class="soft">No lesson yet.</p>
        <LessonLine v-for="l in view.lessons" :key="l.id" :lesson="l" own />
        <p v-if="session.may('export-standing')">
          <a :href="`/api/v1/students/${id}/standing.csv?asOf=${view.asOf}`" download data-action="standing"
            >The standing as a table</a
          >
        </p>
        <p v-if="view.lessons.length && session.may('statements')">
          <a :href="`/api/v1/students/${id}/statements.json`" download data-action="statements"
            >The signed lessons as xAPI statements</a
          >
        </p>
        <p v-for="n in view.notes" :key="n" class="soft small note">{{ n }}</p>
      </aside>
    </div>
  </div>
</template>

<style scoped>
.columns {
  display: grid;
  grid-template-columns: minmax(0, 1.5fr) minmax(0, 1fr);
}

main,
aside {
  padding: 16px 24px;
}

aside {
  background: var(--sheet);
  border-left: 1px solid var(--hair);
  min-height: calc(100dvh - 53px);
}

h1 {
  font-size: 28px;
  font-weight: 700;
  line-height: 1.2;
}

.close {
  text-decoration: underline;
}

.closing {
  width: 100%;
  margin-top: 10px;
}

main h2 {
  padding-top: 14px;
}

.element {
  display: grid;
  grid-template-columns: 64px minmax(0, 1fr) 150px 14px 116px;
  gap: 10px;
  align-items: center;
  min-height: 45px;
  border-bottom: 1px solid var(--fine);
  line-height: 1.25;
}

small {
  display: block;
}

.history {
  padding: 0;
}

.history:disabled {
  opacity: 1;
}

.shown {
  grid-column: 2 / -1;
  list-style: none;
  margin: 0 0 8px;
  padding: 0;
  columns: 220px;
}

.shown li {
  min-height: 26px;
}

.practise {
  list-style: none;
  margin: 0;
  padding: 0;
}

.practise li {
  position: relative;
  padding: 6px 56px 6px 0;
  border-bottom: 1px solid var(--fine);
  line-height: 1.25;
}

.known {
  position: absolute;
  right: 0;
  top: 6px;
}

aside h2 {
  font-size: 18px;
  font-weight: 700;
  border-bottom: 1px solid var(--ink);
  padding: 6px 0;
  margin-top: 8px;
}

.step {
  padding: 8px 0;
  border-bottom: 1px solid var(--fine);
}

.note {
  margin-top: 14px;
}

aside :deep(.line) {
  grid-template-columns: 64px 70px minmax(0, 1fr) 84px;
}

aside :deep(.phases) {
  display: none;
}

@media (max-width: 900px) {
  .columns {
    grid-template-columns: minmax(0, 1fr);
  }

  aside {
    border-left: 0;
    border-top: 1px solid var(--hair);
  }
}

@media (max-width: 560px) {
  main,
  aside {
    padding: 12px;
  }

  .element {
    grid-template-columns: 56px minmax(0, 1fr) 14px;
    padding: 6px 0;
  }

  .element .history,
  .element > b {
    grid-column: 2;
    justify-self: start;
  }
}
</style>
