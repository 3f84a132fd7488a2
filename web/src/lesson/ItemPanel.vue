<script setup lang="ts">
import { computed, ref, shallowRef, watch } from 'vue'

import AppButton from '@/base/AppButton.vue'
import type { Procedure } from '@/schema/schemas'
import BriefTicks from '@/lesson/BriefTicks.vue'
import LevelRow from '@/lesson/LevelRow.vue'
import ProcedureDialog from '@/lesson/ProcedureDialog.vue'
import { useLesson } from '@/lesson/lesson'
import type { Place } from '@/lesson/places'
import { rules } from '@/rules/rules'

/** What stands beside an item: usual errors, standards, the question why. */
const props = defineProps<{ place: Place }>()
const lesson = useLesson()

const asked = computed(() => (lesson.state?.orals ?? []).filter((o) => o.item === props.place.item.id))
const notes = computed(() => (lesson.state?.notes ?? []).filter((n) => n.item === props.place.item.id))
const errors = computed(() => (lesson.state?.errors ?? []).filter((e) => e.item === props.place.item.id))
const findings = computed(() => (lesson.state?.findings ?? []).filter((f) => f.item === props.place.item.id))
const codes = (ids?: string[]) => (ids ?? []).map((id) => lesson.view?.kit.codes[id] ?? id).join(', ')

/** The questions of the bank at this item; without one, why it is here. */
const bank = computed(() => {
  const own = [props.place.item.id, props.place.item.of]
  const found = (lesson.view?.kit.questions ?? []).filter((q) => q.items?.some((id) => own.includes(id)))
  if (found.length || !props.place.item.knowledge?.length) return found
  return [
    {
      id: '',
      kind: 'why',
      ask: 'Why is this item here?',
      answer: props.place.item.why,
      elements: props.place.item.knowledge,
    },
  ]
})
const chosen = ref(0)
const shown = ref(false)
const grading = ref(false)
const question = computed(() => bank.value[chosen.value % Math.max(1, bank.value.length)])
watch(
  () => props.place.item.id,
  () => {
    shown.value = grading.value = false
    const next = bank.value.findIndex((q) => !asked.value.some((o) => (o.bank ?? '') === q.id))
    chosen.value = Math.max(0, next)
  },
  { immediate: true },
)
const procedures = computed(() =>
  (lesson.view?.kit.procedures ?? []).filter((p) =>
    p.items?.includes(props.place.item.of || props.place.item.id),
  ),
)
const procedure = shallowRef<Procedure | null>(null)

/** Times of this item that no box of its check counts. */
const timers = computed(() =>
  props.place.timers.map((id) => {
    const last = (lesson.state?.timers ?? []).findLast(
      (t) => t.timer === id && t.item === props.place.item.id,
    )
    return { id, last, stands: rules.timer(id, props.place.item.id, last?.seconds ?? 0) }
  }),
)

const ask = (level: number) =>
  lesson.touch({
    name: 'oral',
    item: props.place.item.id,
    words: question.value!.ask,
    bank: question.value!.id,
    elements: question.value!.elements ?? [],
    level,
  })
</script>

<template>
  <section class="about" aria-label="About this item">
    <template v-if="!place.item.check">
      <h3>Usual errors</h3>
      <ul>
        <li v-for="e in place.item.errors" :key="e">{{ e }}</li>
      </ul>
    </template>
    <p v-if="place.before.length && !place.item.check" class="soft">
      Only after: {{ place.before.join(', ') }}
    </p>
    <p v-for="p in place.state.reasons.filter((r) => r.level < 4)" :key="p.code" class="attend">
      ▲ {{ p.message }}
    </p>
    <p v-for="e in errors" :key="e.event">
      <b class="out">Error:</b> {{ e.label }}<template v-if="e.words">, {{ e.words }}</template>
    </p>
    <p v-for="f in findings" :key="f.event"><b class="attend">Finding:</b> {{ f.words }}</p>
    <p v-for="n in notes" :key="n.event" class="soft">{{ n.words }}</p>
    <BriefTicks v-if="place.item.id === 'brief-normal'" :key="place.item.id" :place="place" />
    <div v-if="timers.length && !lesson.closed" class="times">
      <AppButton
        v-for="t in timers"
        :key="t.id"
        :data-timer="t.id"
        :class="{ chosen: t.last?.running }"
        @click="lesson.touch({ name: 'timer', item: place.item.id, timer: t.id })"
      >
        {{ t.last?.running ? '■ stop' : '▶ time' }} {{ t.stands.label }}
        <span v-if="t.last?.seconds != null" :class="t.stands.state"
          ><b class="figure">{{ t.last.seconds }} s</b></span
        >
        <small>{{ t.stands.words }}</small>
      </AppButton>
    </div>
    <p v-if="procedures.length && !lesson.closed">
      <AppButton
        v-for="p in procedures"
        :key="p.id"
        class="steps"
        :data-procedure="p.id"
        @click="procedure = p"
      >
        {{ p.title }}, step by step
      </AppButton>
    </p>
    <div v-if="question" class="oral">
      <p class="what">
        <b>{{ question.ask }}</b>
        <span v-if="!place.item.check && question.elements?.length" class="soft small"
          >shows {{ codes(question.elements) }}</span
        >
        <AppButton class="quiet" data-action="answer" @click="shown = !shown">
          {{ shown ? 'hide the answer' : 'answer' }}
        </AppButton>
        <AppButton
          v-if="bank.length > 1"
          class="quiet"
          data-action="another-question"
          @click="((chosen = (chosen + 1) % bank.length), (shown = false))"
        >
          another ({{ (chosen % bank.length) + 1 }} of {{ bank.length }})
        </AppButton>
        <AppButton
          v-if="place.item.check && !lesson.closed"
          class="quiet"
          data-action="grade-oral"
          :aria-expanded="grading"
          @click="grading = !grading"
        >
          grade
        </AppButton>
        <span v-if="asked.length" class="within"> asked: level {{ asked.at(-1)!.level }}</span>
      </p>
      <p v-if="shown" class="answer">{{ question.answer }}</p>
      <LevelRow v-if="!lesson.closed" v-show="grading || !place.item.check" name="oral" @grade="ask" />
    </div>
    <p v-if="place.item.elements?.length && !place.item.check" class="soft small">
      Shows {{ codes(place.item.elements) }}
    </p>
    <ProcedureDialog v-if="procedure" :procedure="procedure" @done="procedure = null" />
  </section>
</template>

<style scoped>
.about {
  display: grid;
  gap: 8px;
}

h3 {
  font-size: 18px;
  font-weight: 700;
}

ul {
  margin: 0;
  padding-left: 18px;
}

.oral {
  border-top: 1px solid var(--hair);
  padding-top: 6px;
  display: flex;
  flex-wrap: wrap;
  gap: 4px 12px;
  align-items: center;
}

.answer {
  flex-basis: 100%;
  border-left: 3px solid var(--hair);
  padding-left: 10px;
}

.what {
  line-height: 1.25;
}

.what .quiet {
  min-height: 32px;
  text-decoration: underline;
  padding: 0 6px;
}

.times {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}

.times small {
  display: block;
  font-size: 12px;
}

.steps {
  min-height: 44px;
  margin-right: 8px;
}
</style>
