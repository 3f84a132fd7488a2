<script setup lang="ts">
import { computed, onMounted, ref, shallowRef } from 'vue'

import { api, take } from '@/api/client'
import AppButton from '@/base/AppButton.vue'
import type { Schemas } from '@/schema/schemas'
import TaughtRow from '@/school/TaughtRow.vue'
import ProblemNotice from '@/shared/ProblemNotice.vue'
import MadeAt from '@/shared/MadeAt.vue'
import TopBar from '@/shared/TopBar.vue'
import { useTrying } from '@/shared/trying'
import { dayWords, decisionWords, markWords } from '@/shared/words'

/** Which items go wrong or need a word, the surest first; each leads to its lessons. */
const { problem, tried } = useTrying()
const view = shallowRef<Schemas['TaughtView'] | null>(null)
const type = ref('')
const most = ref(15)
onMounted(() => tried(async () => (view.value = await take(api.GET('/api/v1/taught')))))
const chains = computed(() => (view.value?.chains ?? []).filter((c) => !type.value || c.type === type.value))
const readings = computed(() =>
  (view.value?.readings ?? []).filter((r) => (!type.value || r.type === type.value) && !r.few && r.out.n > 0),
)
const fewReadings = computed(() =>
  (view.value?.readings ?? []).filter((r) => (!type.value || r.type === type.value) && r.few),
)
const decided = (r: Schemas['TaughtReading']) =>
  r.decided.map((d) => `${d.n} ${d.decision ? decisionWords[d.decision] : 'nothing decided'}`).join(', ')
const found = computed(() => (view.value?.items ?? []).filter((i) => !type.value || i.type === type.value))
const prompts = ref(false)
const enough = computed(() => {
  const all = found.value.filter((i) => !i.few)
  return prompts.value ? all.toSorted((a, b) => b.prompted.low - a.prompted.low) : all
})
const groupings = [
  { id: 'phase', words: 'By phase' },
  { id: 'kind', words: 'By kind of item' },
  { id: 'base', words: 'By base' },
] as const
const groups = (by: string) => (view.value?.groups ?? []).filter((g) => g.by === by && !g.few)
const questions = computed(() => (view.value?.questions ?? []).filter((q) => !q.few && q.missed.n > 0))
const fewQuestions = computed(() => (view.value?.questions ?? []).filter((q) => q.few).length)
const few = computed(() => found.value.filter((i) => i.few))
const typeName = (id: string) => view.value?.types.find((t) => t.id === id)?.name ?? id
const percent = (v: number) => `${Math.round(100 * v)} %`
/** The two rates of items, and how each is drawn. */
const rates = (i: Schemas['TaughtItem'] | Schemas['TaughtGroup']) => [
  { rate: i.wrong, drawn: 'miss', words: 'wrong, left out or unsafe' },
  { rate: i.prompted, drawn: 'word', words: 'after a word or a hand' },
]
const slips = (all: Schemas['StoreSlip'][]) =>
  all.map((s) => ({ id: s.lesson, words: `${dayWords(s.on)}, ${s.student}: ${markWords[s.mark] ?? s.mark}` }))
</script>

<template>
  <div class="place">
    <TopBar>
      <b>What we teach badly</b>
      <span v-if="view" class="soft">signed lessons since {{ dayWords(view.from) }}</span>
      <template #side><a href="/api/v1/taught.csv" download>Export the table</a></template>
    </TopBar>
    <ProblemNotice v-model="problem" />
    <main v-if="view">
      <MadeAt :of="view" />
      <nav class="types" aria-label="Aircraft types">
        <AppButton :class="['quiet', { on: !type }]" @click="type = ''">every type</AppButton>
        <AppButton
          v-for="t in view.types"
          :key="t.id"
          :class="['quiet', { on: type === t.id }]"
          :data-type="t.id"
          @click="type = t.id"
        >
          {{ t.name }}
        </AppButton>
        <span class="sorts">
          <AppButton :class="['quiet', { on: !prompts }]" @click="prompts = false"
            >surely wrong first</AppButton
          >
          <AppButton :class="['quiet', { on: prompts }]" data-action="prompted" @click="prompts = true">
            most prompted first
          </AppButton>
        </span>
      </nav>
      <p v-if="!found.length" class="soft">No signed lesson has an item that was observed.</p>
      <div v-if="enough.length" class="head soft small">
        <span>item</span><span>wrong, left out or unsafe</span><span>after a word or a hand</span
        ><span>since {{ dayWords(view.recent) }}</span>
      </div>
      <TaughtRow
        v-for="i in enough.slice(0, most)"
        :key="`${i.type} ${i.item}`"
        :data-taught="i.item"
        :words="i.challenge"
        :below="[i.phase, type ? '' : typeName(i.type)].filter(Boolean).join(', ')"
        :rates="rates(i)"
        :change="i.change"
        part="slips"
        :lessons="slips(i.slips)"
      />
      <AppButton v-if="enough.length > most" data-action="more" @click="most += 50">
        {{ enough.length - most }} more, which go better
      </AppButton>
      <template v-if="few.length">
        <h3 class="ruled">Too few to tell</h3>
        <p class="soft">
          {{
            few
              .map((i) => `${i.challenge} (${i.wrong.of})`)
              .slice(0, 60)
              .join(' · ')
          }}
        </p>
      </template>
      <template v-if="!type">
        <template v-for="by in groupings" :key="by.id">
          <h3 v-if="groups(by.id).length > 1" class="ruled">{{ by.words }}</h3>
          <TaughtRow
            v-for="g in groups(by.id).length > 1 ? groups(by.id) : []"
            :key="g.item"
            :data-group="`${g.by} ${g.item}`"
            :words="g.item"
            :rates="rates(g)"
            :change="g.change"
            part="slips"
            :lessons="slips(g.slips)"
          />
        </template>
        <template v-if="view.questions.length">
          <h3 class="ruled">Which oral questions are missed</h3>
          <p v-if="!questions.length" class="soft">None that was asked often enough.</p>
          <TaughtRow
            v-for="q in questions.slice(0, 12)"
            :key="q.question"
            :data-question="q.question"
            :words="q.question"
            :rates="[{ rate: q.missed, drawn: 'miss', words: 'known only after a word, or not' }]"
            part="missed"
            :lessons="q.lessons.map((m) => ({ id: m.lesson, words: `${dayWords(m.on)}, ${m.student}` }))"
          />
          <p v-if="fewQuestions" class="soft small">
            {{ fewQuestions }} {{ fewQuestions === 1 ? 'question was' : 'questions were' }} asked too seldom
            to tell.
          </p>
        </template>
      </template>
      <template v-if="view.items.length">
        <h3 class="ruled">Which errors come before which findings</h3>
        <p v-if="!chains.length" class="soft">
          After no error a finding comes surely more often than without it.
        </p>
        <div v-for="c in chains" :key="`${c.type} ${c.item} ${c.finding}`" class="chain" data-part="chain">
          <span
            ><b>{{ c.challenge }}</b> → <b>{{ c.foundAt }}</b><small v-if="!type" class="soft">{{
              typeName(c.type)
            }}</small></span
          >
          <span
            ><b class="figure">{{ percent(c.after.rate) }}</b> after it,
            <b class="figure">{{ percent(c.else.rate) }}</b> without
            <small class="soft">{{ c.words }}</small></span
          >
        </div>
        <h3 class="ruled">How often checks are out of limits</h3>
        <p v-if="!readings.length" class="soft">No check that was tried often enough was out of limits.</p>
        <TaughtRow
          v-for="r in readings"
          :key="`${r.type} ${r.check}`"
          :data-reading="r.check"
          :words="r.title"
          :below="type ? '' : typeName(r.type)"
          :rates="[{ rate: r.out, drawn: 'miss', words: 'out of limits at the first try' }]"
          :end="decided(r)"
          part="out-readings"
          :lessons="
            r.lessons.map((o) => ({
              id: o.lesson,
              words: `${dayWords(o.on)}, ${o.registration}: ${o.words}`,
            }))
          "
        />
        <p v-if="fewReadings.length" class="soft small">
          Tried too seldom to tell:
          {{
            fewReadings
              .map((r) => `${r.title}${type ? '' : `, ${typeName(r.type)}`} (${r.out.of})`)
              .join(' · ')
          }}
        </p>
      </template>
      <p class="soft small">
        The line is where the true rate lies in 95 of 100 cases; the order follows its lower end, so that
        chance puts nothing in front. An item passed by opening the next counts for nothing. A high rate is a
        reason to look at how the item is taught, and at its words on the list. What follows an error more
        often need not come from it.
      </p>
    </main>
  </div>
</template>

<style scoped>
main {
  padding: 10px 24px 40px;
  max-width: 1100px;
}

.types {
  display: flex;
  flex-wrap: wrap;
}

.sorts {
  margin-left: auto;
}

.chain {
  display: grid;
  grid-template-columns: minmax(0, 1.3fr) minmax(0, 2fr);
  gap: 4px 16px;
  padding: 6px 0;
  border-bottom: 1px solid var(--fine);
}

/* The columns of the rows below. */
.head {
  display: grid;
  grid-template-columns: minmax(0, 1.3fr) minmax(0, 1fr) minmax(0, 1fr) 110px;
  gap: 16px;
  align-items: center;
  min-height: 30px;
  border-bottom: 1px solid var(--fine);
}

small {
  display: block;
}

h3 {
  margin-top: 16px;
}

@media (max-width: 800px) {
  .chain {
    grid-template-columns: minmax(0, 1fr);
    gap: 4px;
    padding: 8px 0;
  }

  .head {
    display: none;
  }
}
</style>
