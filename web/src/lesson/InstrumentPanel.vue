<script setup lang="ts">
import { computed, ref, shallowRef } from 'vue'

import AppButton from '@/base/AppButton.vue'
import type { Draft, Procedure } from '@/schema/schemas'
import ProcedureDialog from '@/lesson/ProcedureDialog.vue'
import ReadingBoxes from '@/lesson/ReadingBoxes.vue'
import VerdictSheet from '@/lesson/VerdictSheet.vue'
import { useLesson } from '@/lesson/lesson'
import type { Place } from '@/lesson/places'
import { rules } from '@/rules/rules'
import BandStrip from '@/shared/BandStrip.vue'
import StepTrace from '@/shared/StepTrace.vue'
import { shape } from '@/shared/words'
import { inWords } from '@/shared/errors'

/** The instrument of a measured item: boxes, printed scale, verdict, decision. */
const props = defineProps<{ place: Place }>()
const emit = defineEmits<{ finding: [reading: string, words: string] }>()
const lesson = useLesson()

const id = props.place.item.id
const panel = computed(() => {
  void lesson.state // the rules hold the lesson; it has changed when its state has
  return rules.panel(id, lesson.drafts[id])
})
const draft = computed<Draft>(() => panel.value.draft)
const procedure = shallowRef<Procedure | null>(null)
const problem = ref('')

function write(path: string, value: string | boolean) {
  lesson.drafts[id] = { ...draft.value, [path]: value }
}

/** Enter in a box goes to what cannot be read, then to what is missing; once nothing is, the reading is kept. */
function enter(e: KeyboardEvent) {
  if (!(e.target instanceof HTMLInputElement)) return
  e.preventDefault()
  if (panel.value.verdict) void keep()
  else document.getElementById(Object.keys(panel.value.wrong)[0] ?? panel.value.missing[0] ?? '')?.focus()
}

let keeping = false
async function keep() {
  if (keeping) return
  problem.value = ''
  keeping = true
  try {
    await lesson.touch({ name: 'reading', item: id, draft: draft.value })
    delete lesson.drafts[id]
  } catch (e) {
    problem.value = inWords(e)
  }
  keeping = false
}
</script>

<template>
  <section class="panel" :aria-label="panel.title">
    <p class="title">
      <b>{{ panel.title }}</b>
      <span class="soft">{{ panel.tryWords }}{{ panel.engine ? `, ${panel.engine} engine` : '' }}</span>
      <span class="soft source">limits: {{ panel.source }}</span>
    </p>
    <p v-for="b in panel.beside" :key="b.engine" class="soft small" data-part="beside">
      {{ b.engine }} engine:
      <template v-if="b.try">
        {{ b.try.words }}, <span class="figure">{{ b.try.said }}</span></template
      >
      <template v-else>not read yet</template>
    </p>
    <template v-if="panel.entering">
      <p v-for="(k, i) in panel.earlier" :key="i" class="soft small" data-part="previous">
        Try {{ i + 1 }}: {{ k.words }}, <span class="figure">{{ k.said }}</span>
      </p>
    </template>
    <StepTrace v-if="panel.trace" v-bind="panel.trace" :unit="panel.unit" />
    <div v-if="panel.strips.length && (!panel.entering || lesson.closed)" class="strips">
      <BandStrip v-for="s in panel.strips" :key="s.label" :strip="s" />
    </div>
    <form v-if="panel.entering && !lesson.closed" class="entry" @submit.prevent="keep" @keydown.enter="enter">
      <ReadingBoxes :key="id" :panel="panel" :draft="draft" :item="id" @write="write" />
      <p v-if="panel.refusal || problem" class="problem" role="alert">{{ panel.refusal || problem }}</p>
      <AppButton type="submit" class="primary" :disabled="!panel.verdict" data-action="keep-reading">
        <template v-if="panel.verdict"
          >{{ shape(panel.state) }} {{ panel.words }}. Keep this reading</template
        >
        <template v-else>Fill the boxes in</template><small class="figure">enter</small>
      </AppButton>
    </form>
    <VerdictSheet
      v-if="panel.verdict"
      :panel="panel"
      :closed="lesson.closed"
      @repeat="lesson.drafts[id] = {}"
      @finding="emit('finding', panel.event!, $event)"
      @procedure="procedure = $event"
    />
    <p v-else-if="!panel.entering && panel.unusable" class="problem">{{ panel.unusable }}</p>
    <p v-else class="soft rule">{{ panel.rule }}</p>
    <ProcedureDialog v-if="procedure" :procedure="procedure" @done="procedure = null" />
  </section>
</template>

<style scoped>
.panel {
  display: flex;
  flex-direction: column;
  gap: 10px;
}

.title {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 10px;
  align-items: baseline;
}

.title b {
  font-size: 19px;
}

.source {
  margin-left: auto;
  font-size: 13px;
}

.strips {
  display: grid;
  gap: 2px;
}

.entry {
  display: grid;
  gap: 10px;
}

.entry .primary {
  font-size: 18px;
}

.entry .primary:not(:disabled) {
  position: sticky;
  bottom: -12px;
}

small {
  font-weight: 400;
  font-size: 12px;
  margin-left: 12px;
  opacity: 0.8;
}
</style>
