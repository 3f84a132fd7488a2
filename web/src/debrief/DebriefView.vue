<script setup lang="ts">
import { computed, onMounted, onUnmounted, ref } from 'vue'

import AppButton from '@/base/AppButton.vue'
import BesidePrevious from '@/debrief/BesidePrevious.vue'
import CommentPart from '@/debrief/CommentPart.vue'
import DebriefItem from '@/debrief/DebriefItem.vue'
import FindingsPart from '@/debrief/FindingsPart.vue'
import LessonTimes from '@/debrief/LessonTimes.vue'
import { useItemName } from '@/debrief/names'
import NextLesson from '@/debrief/NextLesson.vue'
import OralCard from '@/debrief/OralCard.vue'
import SelfGrades from '@/debrief/SelfGrades.vue'
import SignPart from '@/debrief/SignPart.vue'
import StateThen from '@/debrief/StateThen.vue'
import StudentAnswer from '@/debrief/StudentAnswer.vue'
import ThingsToFix from '@/debrief/ThingsToFix.vue'
import TimeStrip from '@/debrief/TimeStrip.vue'
import WordsLater from '@/debrief/WordsLater.vue'
import RunSheet from '@/fleet/RunSheet.vue'
import TopBar from '@/shared/TopBar.vue'
import { useLesson } from '@/lesson/lesson'
import { rules } from '@/rules/rules'
import { heed } from '@/shared/feed'
import { useSession } from '@/shared/session'
import { useTrying } from '@/shared/trying'
import { dayWords, methodWords, oralWords, purposeWords } from '@/shared/words'

const props = defineProps<{ id: string }>()
const lesson = useLesson()
const session = useSession()
const { problem, tried } = useTrying()
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
const mine = computed(() => lesson.view?.mine === true)
const sum = computed(() => (state.value && lesson.places.length ? rules.sum(state.value) : null))
const shown = computed(() => {
  const items = new Set(all.value ? sum.value?.observed : sum.value?.deviations)
  return lesson.places.filter((p) => items.has(p.item.id))
})
/** The questions that were not known at once, and before it is signed every one. */
const asked = computed(() => {
  const unsure = new Set(sum.value?.unsure)
  return state.value?.orals.filter((o) => !signed.value || unsure.has(o.event)) ?? []
})
const seen = computed(() =>
  state.value && lesson.places.length && !lesson.view?.withheld ? rules.seen() : null,
)
const fixes = computed(() =>
  state.value && lesson.places.length ? rules.fixes(lesson.view?.beside?.previous?.tallies) : [],
)
const name = useItemName()
const own = computed(() => lesson.view?.lesson.studentId === session.current?.account)
const strip = computed(() =>
  state.value && lesson.places.length && !lesson.view?.withheld && !state.value.opened?.paper
    ? rules.strip()
    : null,
)
const names = computed(() => Object.fromEntries(lesson.places.map((p) => [p.item.id, p.item.challenge])))
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
          <ThingsToFix v-if="fixes.length" :fixes="fixes" />
          <p v-if="seen" class="soft" data-part="observed">{{ seen.words }}</p>
          <p class="totals">
            <span v-for="p in sum?.phases" :key="p.id" class="total">
              <span class="soft small">{{ p.title }}</span>
              <span
                ><b>{{ p.correct }}</b> correct<template v-if="p.nearly"
                  >, <b class="attend">{{ p.nearly }}</b> nearly</template
                ><template v-if="p.not"
                  >, <b class="out">{{ p.not }}</b> not</template
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
          <CommentPart :id="id" :mine="mine" :signed="signed" />
          <SignPart :id="id" :mine="mine" :own="own" />
          <StudentAnswer v-if="signed" :mine="own" :of="state.seals.at(-1)!.seal ?? ''" />
          <p v-if="problem" class="problem" role="alert">{{ problem }}</p>
          <FindingsPart :id="id" />
          <section class="part">
            <h2>Questions</h2>
            <p v-if="state.orals.length">
              {{ state.orals.length }} asked, <b>{{ sum?.known }}</b> known at once
            </p>
            <p v-for="o in asked" :key="o.event" class="small" :data-asked="o.bank">
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
