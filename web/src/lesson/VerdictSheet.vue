<script setup lang="ts">
import { computed, ref } from 'vue'

import AppButton from '@/base/AppButton.vue'
import AppInput from '@/base/AppInput.vue'
import type { Panel, Procedure } from '@/schema/schemas'
import { useLesson } from '@/lesson/lesson'
import { RuleError } from '@/rules/rules'
import SearchSelect from '@/shared/SearchSelect.vue'
import { decisionWords, shape } from '@/shared/words'

/** Number, limit, verdict; why, and what next; then the person's decision. */
const props = defineProps<{ panel: Panel; closed: boolean }>()
const emit = defineEmits<{ repeat: []; finding: [words: string]; procedure: [procedure: Procedure] }>()
const lesson = useLesson()

const verdict = computed(() => props.panel.verdict!)
/** The short procedures that answer what was found. */
const procedures = computed(() =>
  (lesson.view?.kit.procedures ?? []).filter(
    (p) =>
      p.actions?.some((code) => verdict.value.actions.some((a) => a.code === code)) ||
      p.findings?.some((code) => verdict.value.findings.some((f) => f.code === code)),
  ),
)
const people = computed(() => (lesson.view?.kit.people ?? []).map((p) => [p, p] as const))
const told = ref('')
const why = ref('')
const refusal = ref('')

function decide(decision: string) {
  refusal.value = ''
  try {
    lesson.touch({ name: 'decide', about: props.panel.event, decision, told: told.value, why: why.value })
  } catch (e) {
    if (!(e instanceof RuleError)) throw e
    refusal.value = e.said({ why: 'Why', told: 'Who was told' })
  }
}
</script>

<template>
  <div class="sheet" data-part="verdict">
    <div v-if="panel.tiles.length" class="tiles">
      <div v-for="t in panel.tiles" :key="t.label" :class="['tile', { hit: t.state === 'out' }]">
        <span class="soft">{{ t.label }}</span>
        <span
          ><b :class="['number', { out: t.state === 'out' }]">{{ t.value }}</b
          >{{ ' ' }}<span class="soft">{{ t.limit }}</span></span
        >
        <b v-if="t.words" :class="t.state">{{ shape(t.state) }} {{ t.words }}</b>
      </div>
    </div>
    <h3 :class="panel.state" role="status">{{ shape(panel.state) }} {{ panel.words }}</h3>
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
    <p v-if="procedures.length && !closed && panel.entering">
      <AppButton
        v-for="p in procedures"
        :key="p.id"
        class="steps"
        :data-procedure="p.id"
        @click="emit('procedure', p)"
      >
        {{ p.title }}, step by step
      </AppButton>
    </p>
    <p v-if="panel.earlier.length" class="soft small">
      Before:
      <span v-for="(e, i) in panel.earlier" :key="i">
        try {{ i + 1 }}, {{ e.words.toLowerCase() }} {{ e.finding ? `(${e.finding})` : '' }}
      </span>
    </p>
    <template v-if="!panel.entering && !closed">
      <div v-if="panel.decision" class="decided">
        Decided: <b>{{ decisionWords[panel.decision.decision] }}</b>
        <span v-if="panel.decision.told">, told {{ panel.decision.told }}</span>
        <span v-if="panel.decision.why">, because {{ panel.decision.why }}</span>
      </div>
      <details v-else-if="panel.asks" class="decide" :open="panel.stops">
        <summary>{{ panel.stops ? 'What follows?' : 'Decide without another try' }}</summary>
        <div class="deciding">
          <label class="small"
            >who was told
            <SearchSelect v-model="told" name="told" :options="people" none="choose, or write a name" own
          /></label>
          <label class="small">why <AppInput v-model="why" type="text" name="why" /></label>
          <AppButton v-for="d in panel.decisions" :key="d" :data-decision="d" @click="decide(d)">
            {{ decisionWords[d] }}
          </AppButton>
          <p v-if="panel.needs" class="small soft">{{ panel.needs }}</p>
          <p v-if="refusal" class="problem" role="alert">{{ refusal }}</p>
        </div>
      </details>
      <div class="next">
        <AppButton v-for="p in procedures" :key="p.id" :data-procedure="p.id" @click="emit('procedure', p)">
          {{ p.title }}, step by step
        </AppButton>
        <AppButton data-action="repeat" @click="emit('repeat')">Repeat the check</AppButton>
        <AppButton
          v-if="panel.state !== 'within'"
          data-action="finding"
          @click="emit('finding', verdict.findings[0]?.message ?? '')"
        >
          Write a finding
        </AppButton>
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
  font: 700 27px/1.1 var(--figures);
}

h3 {
  font-size: 22px;
  font-weight: 700;
}

.next,
.decide summary {
  cursor: pointer;
}

.deciding {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  align-items: end;
}

.next {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
}

.next button {
  flex: 1;
  min-height: 44px;
}

.deciding label {
  flex: 1 1 40%;
}

.deciding button {
  min-height: 44px;
  flex: 1 1 auto;
  padding: 4px 10px;
}

.deciding p {
  width: 100%;
}

.decided {
  border-left: 3px solid var(--ink);
  padding-left: 10px;
}

@media (pointer: coarse) {
  .deciding button {
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
