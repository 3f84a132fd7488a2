<script setup lang="ts">
import { computed, onMounted, ref, shallowRef } from 'vue'

import { api, take, type Schemas } from '@/api/client'
import RateCell from '@/school/RateCell.vue'
import ProblemNotice from '@/shared/ProblemNotice.vue'
import TopBar from '@/shared/TopBar.vue'
import { useTrying } from '@/shared/trying'
import { dayWords, decisionWords, markWords } from '@/shared/words'

/** Which items go wrong or need a word, the surest first; each leads to its lessons. */
const { problem, tried } = useTrying()
const view = shallowRef<Schemas['TaughtView'] | null>(null)
const type = ref('')
const open = ref('')
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
const readingKey = (r: Schemas['TaughtReading']) => `${r.type} reading ${r.check}`
const key = (i: Schemas['TaughtItem']) => `${i.type} ${i.item}`
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
const groupKey = (g: Schemas['TaughtGroup']) => `${g.by} ${g.item}`
const questions = computed(() => (view.value?.questions ?? []).filter((q) => !q.few && q.missed.n > 0))
const fewQuestions = computed(() => (view.value?.questions ?? []).filter((q) => q.few).length)
const few = computed(() => found.value.filter((i) => i.few))
const typeName = (id: string) => view.value?.types.find((t) => t.id === id)?.name ?? id
const percent = (v: number) => `${Math.round(100 * v)} %`
/** The two rates of items, and how each is drawn. */
const rates = (i: Schemas['TaughtItem'] | Schemas['TaughtGroup']) => [
  { ...i.wrong, drawn: 'miss', words: 'wrong, left out or unsafe' },
  { ...i.prompted, drawn: 'word', words: 'after a word or a hand' },
]
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
      <nav class="types" aria-label="Aircraft types">
        <button :class="['quiet', { on: !type }]" @click="type = ''">every type</button>
        <button
          v-for="t in view.types"
          :key="t.id"
          :class="['quiet', { on: type === t.id }]"
          :data-type="t.id"
          @click="type = t.id"
        >
          {{ t.name }}
        </button>
        <span class="sorts">
          <button :class="['quiet', { on: !prompts }]" @click="prompts = false">surely wrong first</button>
          <button :class="['quiet', { on: prompts }]" data-action="prompted" @click="prompts = true">
            most prompted first
          </button>
        </span>
      </nav>
      <p v-if="!found.length" class="soft">No signed lesson has an item that was observed.</p>
      <div v-if="enough.length" class="row head soft small">
        <span>item</span><span>wrong, left out or unsafe</span><span>after a word or a hand</span
        ><span>since {{ dayWords(view.recent) }}</span>
      </div>
      <template v-for="i in enough.slice(0, most)" :key="key(i)">
        <button
          class="row"
          :data-taught="i.item"
          :aria-expanded="open === key(i)"
          @click="open = open === key(i) ? '' : key(i)"
        >
          <span
            ><b>{{ i.challenge }}</b>
            <small class="soft">{{
              [i.phase, type ? '' : typeName(i.type)].filter(Boolean).join(', ')
            }}</small></span
          >
          <RateCell v-for="r in rates(i)" :key="r.drawn" :rate="r" :drawn="r.drawn" :title="r.words" />
          <span :class="['small', i.change === 'worse' ? 'out' : 'within']">{{
            i.change ? `${i.change === 'worse' ? '■' : '●'} ${i.change}` : ''
          }}</span>
        </button>
        <p v-if="open === key(i)" class="slips" data-part="slips">
          <template v-if="!i.slips.length">It went right each time.</template>
          <router-link v-for="s in i.slips" :key="s.lesson" :to="`/lessons/${s.lesson}/debrief`"
            >{{ dayWords(s.on) }}, {{ s.student }}: {{ markWords[s.mark] ?? s.mark }}</router-link
          >
        </p>
      </template>
      <button v-if="enough.length > most" data-action="more" @click="most += 50">
        {{ enough.length - most }} more, which go better
      </button>
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
          <template v-for="g in groups(by.id).length > 1 ? groups(by.id) : []" :key="groupKey(g)">
            <button
              class="row"
              :data-group="groupKey(g)"
              :aria-expanded="open === groupKey(g)"
              @click="open = open === groupKey(g) ? '' : groupKey(g)"
            >
              <b>{{ g.item }}</b>
              <RateCell v-for="r in rates(g)" :key="r.drawn" :rate="r" :drawn="r.drawn" :title="r.words" />
              <span :class="['small', g.change === 'worse' ? 'out' : 'within']">{{
                g.change ? `${g.change === 'worse' ? '■' : '●'} ${g.change}` : ''
              }}</span>
            </button>
            <p v-if="open === groupKey(g)" class="slips" data-part="slips">
              <router-link v-for="s in g.slips" :key="s.lesson + s.item" :to="`/lessons/${s.lesson}/debrief`"
                >{{ dayWords(s.on) }}, {{ s.student }}: {{ markWords[s.mark] ?? s.mark }}</router-link
              >
            </p>
          </template>
        </template>
        <template v-if="view.questions.length">
          <h3 class="ruled">Which oral questions are missed</h3>
          <p v-if="!questions.length" class="soft">None that was asked often enough.</p>
          <template v-for="q in questions.slice(0, 12)" :key="q.question">
            <button
              class="row readings"
              :data-question="q.question"
              :aria-expanded="open === q.question"
              @click="open = open === q.question ? '' : q.question"
            >
              <b>{{ q.question }}</b>
              <RateCell :rate="q.missed" drawn="miss" title="known only after a word, or not" />
            </button>
            <p v-if="open === q.question" class="slips" data-part="missed">
              <router-link v-for="m in q.lessons" :key="m.lesson" :to="`/lessons/${m.lesson}/debrief`"
                >{{ dayWords(m.on) }}, {{ m.student }}</router-link
              >
            </p>
          </template>
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
        <template v-for="r in readings" :key="readingKey(r)">
          <button
            class="row readings"
            :data-reading="r.check"
            :aria-expanded="open === readingKey(r)"
            @click="open = open === readingKey(r) ? '' : readingKey(r)"
          >
            <span
              ><b>{{ r.title }}</b
              ><small v-if="!type" class="soft">{{ typeName(r.type) }}</small></span
            >
            <RateCell :rate="r.out" drawn="miss" title="out of limits at the first try" />
            <span class="small">{{ decided(r) }}</span>
          </button>
          <p v-if="open === readingKey(r)" class="slips" data-part="out-readings">
            <router-link v-for="o in r.lessons" :key="o.lesson" :to="`/lessons/${o.lesson}/debrief`"
              >{{ dayWords(o.on) }}, {{ o.registration }}: {{ o.words }}</router-link
            >
          </p>
        </template>
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

.row {
  display: grid;
  grid-template-columns: minmax(0, 1.3fr) minmax(0, 1fr) minmax(0, 1fr) 110px;
  gap: 16px;
  align-items: center;
  width: 100%;
  min-height: 46px;
  padding: 2px 0;
  text-align: left;
  border: 0;
  border-bottom: 1px solid var(--fine);
  line-height: 1.2;
}

.row[aria-expanded='true'] {
  background: var(--live);
}

.readings {
  grid-template-columns: minmax(0, 1.3fr) minmax(0, 1fr) minmax(0, 1fr);
}

.chain {
  display: grid;
  grid-template-columns: minmax(0, 1.3fr) minmax(0, 2fr);
  gap: 4px 16px;
  padding: 6px 0;
  border-bottom: 1px solid var(--fine);
}

.head {
  min-height: 30px;
}

small {
  display: block;
}

.slips {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 20px;
  padding: 8px 0 10px 16px;
}

h3 {
  margin-top: 16px;
}

@media (max-width: 800px) {
  .row,
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
