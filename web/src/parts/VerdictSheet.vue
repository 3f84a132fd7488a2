<script setup lang="ts">
import { computed, ref } from 'vue'

import type { Procedure, Reading, Verdict } from '../api/client'
import { useLesson } from '../stores/lesson'
import { decisionWords, nextWords, outcomeWords } from '../words'
import type { Tile } from './reading'

/** Number, limit, verdict; why, and what next; then the person's decision. */
const props = defineProps<{
  verdict: Verdict
  tiles: Tile[]
  /** The kept reading; none while the boxes are still being filled. */
  reading?: Reading
  earlier: Reading[]
  closed: boolean
}>()
const emit = defineEmits<{ repeat: []; finding: [words: string]; procedure: [procedure: Procedure] }>()
const lesson = useLesson()

const tone = computed(
  () =>
    ({ normal: 'within', caution: 'attend', invalid: 'attend', abnormal: 'out' })[
      props.verdict.outcome as 'normal'
    ],
)
const shape = computed(() => ({ within: '●', attend: '▲', out: '■' })[tone.value as 'within'])
const headline = computed(() => {
  const o = outcomeWords[props.verdict.outcome as 'normal']
  return props.verdict.outcome === 'normal' ? o : `${o}: ${nextWords[props.verdict.decision as 'stop']}`
})
/** The short procedures that answer what was found. */
const procedures = computed(() =>
  (lesson.view?.procedures ?? []).filter(
    (p) =>
      p.actions?.some((code) => props.verdict.actions.some((a) => a.code === code)) ||
      p.findings?.some((code) => props.verdict.findings.some((f) => f.code === code)),
  ),
)
const told = ref('')
const why = ref('')
const asked = ref('')

async function decide(decision: string) {
  const against =
    props.verdict.decision === 'stop' && (decision === 'carried-on' || decision === 'normal-for-type')
  if (against && !why.value.trim()) {
    asked.value = 'This goes against a stop: say why, then choose again.'
    return
  }
  asked.value = ''
  await lesson.touch([
    {
      kind: 'decision',
      payload: { about: props.reading!.event, decision, told: told.value, why: why.value },
    },
  ])
}
</script>

<template>
  <div class="sheet" data-part="verdict">
    <div v-if="tiles.length" class="tiles">
      <div v-for="t in tiles" :key="t.label" :class="['tile', { hit: t.tone === 'out' }]">
        <span class="soft">{{ t.label }}</span>
        <span
          ><b :class="['number', t.tone === 'out' ? 'out' : '']">{{ t.value }}</b
          >{{ ' ' }}<span class="soft">{{ t.of }}</span></span
        >
        <b :class="t.tone">{{ t.word }}</b>
      </div>
    </div>
    <h3 :class="tone" role="status">{{ shape }} {{ headline }}</h3>
    <p v-for="f in verdict.findings" :key="f.code + f.side">{{ f.message }}</p>
    <p v-if="verdict.causes.length" class="soft">
      Most often: <b>{{ verdict.causes[0]!.message }}</b>
      <template v-if="verdict.causes.length > 1">
        Or:
        {{
          verdict.causes
            .slice(1)
            .map((c) => c.message)
            .join(' ')
        }}</template
      >
    </p>
    <p v-for="a in verdict.actions" :key="a.code" data-part="action">→ {{ a.message }}</p>
    <p v-if="procedures.length && !closed && !reading">
      <button
        v-for="p in procedures"
        :key="p.id"
        class="steps"
        :data-procedure="p.id"
        @click="emit('procedure', p)"
      >
        {{ p.title }}, step by step
      </button>
    </p>
    <p v-if="earlier.length" class="soft small">
      Before:
      <span v-for="e in earlier" :key="e.event">
        try {{ e.attempt }},
        {{ e.verdict ? outcomeWords[e.verdict.outcome as 'normal'].toLowerCase() : 'not judged' }}
        {{ e.verdict?.findings[0] ? `(${e.verdict.findings[0].message})` : '' }}
      </span>
    </p>
    <template v-if="reading && !closed">
      <div v-if="reading.decision" class="decided">
        Decided: <b>{{ decisionWords[reading.decision.decision] }}</b>
        <span v-if="reading.decision.told">, told {{ reading.decision.told }}</span>
        <span v-if="reading.decision.why">, because {{ reading.decision.why }}</span>
      </div>
      <div v-else-if="verdict.decision === 'stop'" class="decide">
        <label class="small">who was told <input v-model="told" type="text" name="told" /></label>
        <label class="small">why <input v-model="why" type="text" name="why" /></label>
        <button v-for="(words, d) in decisionWords" :key="d" :data-decision="d" @click="decide(d)">
          {{ words }}
        </button>
        <p v-if="asked" class="problem">{{ asked }}</p>
      </div>
      <div class="next">
        <button v-for="p in procedures" :key="p.id" :data-procedure="p.id" @click="emit('procedure', p)">
          {{ p.title }}, step by step
        </button>
        <button data-action="repeat" @click="emit('repeat')">Repeat the check</button>
        <button
          v-if="verdict.outcome !== 'normal'"
          data-action="finding"
          @click="emit('finding', verdict.findings[0]?.message ?? '')"
        >
          Write a finding
        </button>
      </div>
    </template>
  </div>
</template>

<style scoped>
.sheet {
  display: grid;
  gap: 5px;
  line-height: 1.3;
}

.steps {
  min-height: 44px;
  margin-right: 8px;
}

.tiles {
  display: grid;
  grid-auto-flow: column;
  grid-auto-columns: minmax(0, 1fr);
  border: 1px solid var(--hair);
}

.tile {
  display: grid;
  padding: 6px 14px;
  border-right: 1px solid var(--hair);
}

.tile.hit {
  outline: 2px solid var(--out);
  outline-offset: -1px;
}

.number {
  font: 700 27px/1.1 var(--mono);
}

h3 {
  font-size: 22px;
  font-weight: 700;
}

.next,
.decide {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  align-items: end;
}

.next button {
  flex: 1;
  min-height: 56px;
}

.decide label {
  flex: 1 1 40%;
}

.decide button {
  min-height: 44px;
  flex: 1 1 auto;
  padding: 4px 10px;
}

.decide p {
  width: 100%;
}

.decided {
  border-left: 3px solid var(--ink);
  padding-left: 10px;
}

@media (pointer: coarse) {
  .decide button {
    min-height: 56px;
  }
}

@media (max-width: 560px) {
  .tile {
    padding: 6px 8px;
  }

  .number {
    font-size: 22px;
  }
}
</style>
