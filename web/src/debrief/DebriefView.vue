<script setup lang="ts">
import { computed, onMounted, onUnmounted, ref } from 'vue'

import AppButton from '@/base/AppButton.vue'
import AppText from '@/base/AppText.vue'
import type { Schemas } from '@/schema/schemas'
import BesidePrevious from '@/debrief/BesidePrevious.vue'
import DebriefItem from '@/debrief/DebriefItem.vue'
import LessonTimes from '@/debrief/LessonTimes.vue'
import NextLesson from '@/debrief/NextLesson.vue'
import OralCard from '@/debrief/OralCard.vue'
import SelfGrades from '@/debrief/SelfGrades.vue'
import SignBox from '@/sign-in/SignBox.vue'
import StateThen from '@/debrief/StateThen.vue'
import StudentAnswer from '@/debrief/StudentAnswer.vue'
import TimeStrip from '@/debrief/TimeStrip.vue'
import WordsLater from '@/debrief/WordsLater.vue'
import RunSheet from '@/fleet/RunSheet.vue'
import TopBar from '@/shared/TopBar.vue'
import FindingBehind from '@/lesson/FindingBehind.vue'
import { useLesson } from '@/lesson/lesson'
import type { Again } from '@/lesson/signing'
import { rules } from '@/rules/rules'
import { heed } from '@/shared/feed'
import { useSession } from '@/shared/session'
import { useTrying } from '@/shared/trying'
import {
  count,
  dayWords,
  decisionWords,
  markWords,
  methodWords,
  oralWords,
  outcomeTone,
  outcomeWords,
  purposeWords,
  severityWords,
} from '@/shared/words'

const props = defineProps<{ id: string }>()
const lesson = useLesson()
const session = useSession()
const { problem, busy, tried } = useTrying()
const comment = ref('')
/** The moment of the strip that is looked at. */
const at = ref<number | null>(null)
const all = ref(false)

/** What changes elsewhere, and what becomes of a signature made here, is shown as it comes. */
let unfollow: (() => void) | undefined
let gone = false
onMounted(async () => {
  await tried(() => lesson.load(props.id))
  if (gone) return
  unfollow = heed(() => {
    void lesson.lookAtSignature(props.id)
    lesson.catchUp().catch(() => undefined)
  })
})
onUnmounted(() => {
  gone = true
  unfollow?.()
})

const state = computed(() => lesson.state)
const run = computed(() => lesson.view?.lesson.studentId === '')
const signed = computed(() => (state.value?.seals.length ?? 0) > 0)
const unsigned = computed(() => state.value?.addenda.filter((a) => !a.signed) ?? [])
const mine = computed(() => lesson.view?.mine === true)
const shown = computed(() =>
  lesson.places.filter((p) =>
    all.value
      ? p.state.level != null || p.state.first
      : (p.state.level != null && p.state.level < 4) || p.state.override || p.state.first,
  ),
)
const seen = computed(() =>
  state.value && lesson.places.length && !lesson.view?.withheld ? rules.seen() : null,
)
const fixes = computed(() =>
  state.value && lesson.places.length ? rules.fixes(lesson.view?.beside?.previous?.tallies) : [],
)
const name = (item?: string) => lesson.places.find((p) => p.item.id === item)?.item.challenge ?? ''
const foundAt = (item?: string) => !!item && state.value!.findings.some((f) => f.item === item)
const said = (r: Schemas['LessonReading']) =>
  r.verdict
    ? `${outcomeWords[r.verdict.outcome]!.toLowerCase()}. ${r.verdict.findings[0]?.message ?? ''}`
    : 'not judged'
/** A finding stands with every try of its item; the other readings stand alone. */
const triesAt = (item?: string) =>
  state
    .value!.readings.filter((r) => item && r.item === item)
    .map((r) => ({
      attempt: r.attempt,
      recorded: r.source === 'recorder',
      state: outcomeTone(r.verdict?.outcome ?? ''),
      words: said(r),
    }))
const end = () => tried(() => lesson.touch({ name: 'end' }))

async function say() {
  if (!comment.value.trim()) return
  await tried(async () => {
    await lesson.touch({ name: 'comment', words: comment.value })
    comment.value = ''
    if (signed.value) await lesson.load(props.id)
  })
}

const sign = (again: Again) =>
  tried(async () => {
    await lesson.sign(again)
    await lesson.load(props.id)
  })
const own = computed(() => lesson.view?.lesson.studentId === session.current?.account)
const strip = computed(() =>
  state.value && lesson.places.length && !lesson.view?.withheld && !state.value.opened?.paper
    ? rules.strip()
    : null,
)
const names = computed(() => Object.fromEntries(lesson.places.map((p) => [p.item.id, p.item.challenge])))
/** What was not there when it was signed on this device. */
const cameSince = computed(() => {
  const seen = new Set(lesson.signedHere?.seen)
  return lesson.events
    .filter((e) => !seen.has(e.id))
    .map((e) => ({ id: e.id, kind: e.kind, item: name((e.payload as { item?: string } | null)?.item) }))
})
const open = () => tried(() => lesson.load(props.id))
const print = () => window.print()
</script>

<template>
  <div class="place">
    <TopBar>
      <b>{{ run ? 'Maintenance run' : 'Debrief' }}</b>
      <span v-if="lesson.view && run" class="soft"
        >{{ lesson.view.lesson.registration }}, {{ dayWords(lesson.view.lesson.openedAt.slice(0, 10)) }}, by
        {{ lesson.view.lesson.instructor }}</span
      >
      <template v-else-if="lesson.view">
        <b>{{ lesson.view.lesson.student }}</b>
        <span class="soft"
          >{{ lesson.view.lesson.registration }}, {{ dayWords(lesson.view.lesson.openedAt.slice(0, 10)) }},
          with {{ lesson.view.lesson.instructor }}, {{ methodWords[state?.opened?.method ?? ''] }},
          {{ purposeWords[state?.opened?.purpose ?? ''] }}</span
        >
      </template>
      <template #side>
        <router-link v-if="lesson.view && !signed && mine" :to="`/lessons/${id}`"
          >Back to the list</router-link
        >
        <template v-if="signed && session.may('export-record') && !lesson.view?.withheld">
          <a v-if="!run" :href="`/api/v1/lessons/${id}/grade-sheet.pdf`" download data-action="grade-sheet"
            >Grade sheet</a
          >
          <a :href="`/api/v1/lessons/${id}/record`" download data-action="export-record">Record</a>
        </template>
        <AppButton class="quiet" @click="print">Print</AppButton>
      </template>
    </TopBar>
    <RunSheet v-if="run && lesson.view?.lesson.id === id" :id="id" />
    <template v-else-if="lesson.view && state && lesson.view.lesson.id === id">
      <p v-if="lesson.view.lesson.flag" class="attend flag" data-part="flag">
        ▲ This lesson was {{ lesson.view.lesson.flag }}.
      </p>
      <div v-if="lesson.view.withheld" class="asked">
        <SelfGrades asks @given="open" />
        <p v-if="problem" class="problem" role="alert">{{ problem }}</p>
      </div>
      <TimeStrip v-if="strip" v-model="at" :strip="strip" :names="names" />
      <StateThen v-if="strip && at !== null" :at="at" :strip="strip" />
      <div v-if="!lesson.view.withheld" class="columns">
        <main>
          <section v-if="state.problems.length && !signed" class="part open" data-part="open">
            <h2 class="out">■ Open: before anything is signed</h2>
            <p v-for="p in state.problems" :key="(p.event ?? '') + p.message">
              <b>{{ name(p.item) }}</b> {{ p.message }}
              <router-link v-if="mine && p.item" :to="{ path: `/lessons/${id}`, query: { item: p.item } }"
                >Decide at the item</router-link
              >
            </p>
          </section>
          <WordsLater v-if="mine && !signed" />
          <section v-if="fixes.length" class="part" data-part="worst">
            <h2>
              {{
                fixes.length === 1
                  ? 'One thing to fix'
                  : fixes.length === 2
                    ? 'Two things to fix'
                    : 'Three things to fix'
              }}
            </h2>
            <div v-for="(f, i) in fixes" :key="f.item" class="fix">
              <b class="nth figure">{{ i + 1 }}</b>
              <p>
                <b>{{ name(f.item) }}</b>
                <span class="block"
                  >{{ f.why }} <span class="figure">{{ f.measured }}</span></span
                >
                <span v-if="f.lately" class="block soft" data-part="lately">{{ f.lately }}</span>
                <span v-if="f.practise" class="block within">
                  practise:
                  <router-link v-if="f.check" :to="`/reference/${f.check}`">{{ f.practise }}</router-link>
                  <template v-else>{{ f.practise }}</template>
                </span>
              </p>
            </div>
          </section>
          <p v-if="seen" class="soft" data-part="observed">{{ seen.words }}</p>
          <p class="totals">
            <span v-for="p in state.phases.filter((p) => p.marked)" :key="p.id" class="total">
              <span class="soft small">{{ p.title }}</span>
              <span
                ><b>{{ p.levels[4] }}</b> correct<template v-if="p.levels[3]! + p.levels[2]!"
                  >, <b class="attend">{{ p.levels[3]! + p.levels[2]! }}</b> nearly</template
                ><template v-if="p.levels[1]! + p.levels[0]!"
                  >, <b class="out">{{ p.levels[1]! + p.levels[0]! }}</b> not</template
                ></span
              >
            </span>
          </p>
          <p class="bar">
            <b>{{ all ? 'Every item observed' : 'What was not correct at once' }}</b>
            <AppButton class="quiet" @click="all = !all">
              {{ all ? 'Only deviations' : 'Show every item' }}
            </AppButton>
          </p>
          <p v-if="seen?.observed && !shown.length" class="soft">Nothing among what was observed.</p>
          <DebriefItem
            v-for="p in shown"
            :key="p.item.id"
            :place="p"
            :scale="lesson.view.scale"
            :closed="signed || !mine"
            :corrects="signed && mine"
            @corrected="tried(() => lesson.load(id))"
          />
          <BesidePrevious
            v-if="lesson.view.beside?.previous"
            :previous="lesson.view.beside.previous"
            :on="lesson.view.lesson.openedAt.slice(0, 10)"
          />
        </main>
        <aside>
          <SelfGrades :asks="false" />
          <LessonTimes
            v-if="lesson.view.beside"
            :opened-at="lesson.view.lesson.openedAt"
            :beside="lesson.view.beside"
          />
          <NextLesson :view="lesson.view" />
          <section class="part">
            <h2>Comment</h2>
            <p v-for="n in state.debrief" :key="n.event">{{ n.words }}</p>
            <p
              v-for="a in state.addenda.filter((a) => a.kind !== 'correction')"
              :key="a.event"
              class="attend"
            >
              Added later, {{ a.signed ? 'signed' : 'unsigned' }}: {{ a.words || a.kind }}
            </p>
            <p v-for="c in state.corrections ?? []" :key="c.event" class="attend" data-part="correction">
              {{ c.signed ? 'Corrected' : 'To be corrected once it is signed' }}: <b>{{ name(c.item) }}</b> is
              {{ markWords[c.mark] }}, because {{ c.why }}
            </p>
            <form v-if="mine" @submit.prevent="say">
              <AppText
                v-model="comment"
                name="comment"
                rows="2"
                :placeholder="signed ? 'An addendum to the signed record' : 'What to fix next time'"
              />
              <AppButton type="submit" :disabled="!comment.trim() || busy">
                {{ signed ? 'Add to the record' : 'Add the comment' }}
              </AppButton>
            </form>
          </section>
          <section v-if="signed && !unsigned.length" class="part" data-part="signed">
            <h2 class="within">● Signed</h2>
            <p>
              {{ count(state.seals[0]!.events, 'event') }}, rules {{ state.seals[0]!.rulesVersion }},
              {{ dayWords(state.seals[0]!.wall.slice(0, 10)) }}
            </p>
            <p class="figure small soft seal">{{ state.seals[0]!.hash }}</p>
            <router-link :to="`/students/${lesson.view.lesson.studentId}`">{{
              own ? 'My standing' : `Standing of ${lesson.view.lesson.student}`
            }}</router-link>
          </section>
          <section v-else-if="mine" class="part">
            <h2>Sign</h2>
            <p v-for="p in state.problems" :key="p.message" class="problem">
              {{ name(p.item) }}: {{ p.message }}
            </p>
            <AppButton
              v-if="!state.ended"
              class="primary wide"
              :disabled="busy"
              data-action="end"
              @click="end"
            >
              End the lesson
            </AppButton>
            <p v-else-if="lesson.signedHere && !lesson.signedHere.reason" class="within" data-part="promised">
              ● Signed on this device at {{ lesson.signedHere.at.slice(11, 16) }} UTC. The school seals it as
              soon as it has it.
            </p>
            <div v-else-if="lesson.signedHere" class="problem" data-part="came-back">
              <p>Your signature came back: {{ lesson.signedHere.reason }}</p>
              <p v-for="e in cameSince" :key="e.id">
                Came since: {{ e.kind.replaceAll('-', ' ') }} {{ e.item }}
              </p>
              <AppButton data-action="look-again" @click="lesson.dropSignature()">
                I have looked: sign again
              </AppButton>
            </div>
            <SignBox
              v-else
              :words="signed ? 'Sign what was added' : 'Sign the lesson'"
              :busy="busy"
              :off="state.problems.length > 0"
              action="sign"
              @sign="sign"
            />
          </section>
          <StudentAnswer v-if="signed" :mine="own" :of="state.seals.at(-1)!.seal ?? ''" />
          <p v-if="problem" class="problem" role="alert">{{ problem }}</p>
          <section class="part">
            <h2>Errors</h2>
            <p v-if="!state.errors.length" class="soft">None noted.</p>
            <p v-for="e in state.errors" :key="e.event">
              <b>{{ name(e.item) }}</b> {{ e.label }},
              <span class="soft">{{ severityWords[e.severity] }}</span>
              {{ e.words }}
            </p>
          </section>
          <section class="part">
            <h2>Findings and readings</h2>
            <p v-if="!state.findings.length" class="soft">No finding was written.</p>
            <p v-for="f in state.findings" :key="f.event">
              <b>{{ name(f.item) }}</b> {{ f.words }}
              <span class="soft"
                >{{ f.decision ? decisionWords[f.decision.decision] : 'no decision'
                }}{{ f.decision?.told ? `, told ${f.decision.told}` : '' }}</span
              >
              <FindingBehind
                :lesson="id"
                :words="f.words"
                :tries="triesAt(f.item)"
                :pictures="f.pictures ?? []"
              />
            </p>
            <p
              v-for="r in state.readings.filter(
                (r) => r.verdict && outcomeTone(r.verdict.outcome) !== 'within' && !foundAt(r.item),
              )"
              :key="r.event"
              class="small"
            >
              <b>{{ name(r.item) }}</b> try {{ r.attempt }}: {{ said(r) }}
            </p>
          </section>
          <section class="part">
            <h2>Questions</h2>
            <p v-if="state.orals.length">
              {{ state.orals.length }} asked,
              <b>{{ state.orals.filter((o) => o.level >= 4).length }}</b> known at once
            </p>
            <p
              v-for="o in state.orals.filter((o) => o.level < 4 || !signed)"
              :key="o.event"
              class="small"
              :data-asked="o.bank"
            >
              <b v-if="o.item" class="soft">{{ name(o.item) }}:</b> {{ o.question }}
              <b>level {{ o.level }}, {{ oralWords[o.level] }}</b>
            </p>
            <OralCard v-if="mine && !signed" />
          </section>
          <p v-for="n in new Set(lesson.view.kit.notes)" :key="n" class="soft small">{{ n }}</p>
        </aside>
      </div>
    </template>
    <p v-else-if="problem" class="problem" role="alert">{{ problem }}</p>
  </div>
</template>

<style scoped>
.columns {
  display: grid;
  grid-template-columns: minmax(0, 1.5fr) minmax(0, 1fr);
  min-height: calc(100dvh - 150px);
}

main,
aside {
  padding: 14px 24px;
}

aside {
  background: var(--sheet);
  border-left: 1px solid var(--hair);
}

.asked {
  max-width: 720px;
  padding: 24px;
}

.flag {
  padding: 8px 24px;
}

.fix {
  display: grid;
  grid-template-columns: 30px minmax(0, 1fr);
}

.nth {
  font-size: 22px;
}

.totals {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 22px;
}

.total {
  display: grid;
}

.bar {
  display: flex;
  justify-content: space-between;
  align-items: center;
  border-bottom: 1px solid var(--ink);
  margin-top: 10px;
}

form {
  display: grid;
  gap: 8px;
}

form button {
  min-height: 48px;
}

.wide {
  min-height: 72px;
  font-size: 20px;
}

.seal {
  overflow-wrap: anywhere;
}

@media (max-width: 900px) {
  .columns {
    grid-template-columns: minmax(0, 1fr);
  }

  aside {
    border-left: 0;
  }

  main,
  aside {
    padding: 12px;
  }
}
</style>
