<script setup lang="ts">
import { computed, ref } from 'vue'

import AppButton from '@/base/AppButton.vue'
import AppInput from '@/base/AppInput.vue'
import type { Schemas } from '@/schema/schemas'
import { useLesson } from '@/lesson/lesson'
import type { Place } from '@/lesson/places'
import { RuleError } from '@/rules/rules'
import { corrections, markTone, markWords } from '@/shared/words'
import TapeTick from '@/shared/TapeTick.vue'

/**
 * One item of the debrief: proposed level with reasons, and the override; once it is signed the mark that
 * should stand in its place.
 */
const props = defineProps<{
  place: Place
  scale: Schemas['LessonScale']
  closed: boolean
  corrects?: boolean
}>()
const emit = defineEmits<{ corrected: [] }>()
const lesson = useLesson()
const mark = ref('')
const open = ref(false)
const level = ref<number | null>(null)
const reason = ref('')
const problem = ref('')

const shows = (l?: number | null) =>
  props.scale.steps.find((s) => s.shows.includes(l ?? -1))?.label ?? 'no level'
const s = computed(() => props.place.state)

function override() {
  const item = props.place.item.id
  try {
    lesson.touch({ name: 'override', item, level: level.value ?? undefined, why: reason.value })
    open.value = false
    problem.value = reason.value = ''
  } catch (e) {
    if (!(e instanceof RuleError)) throw e
    problem.value = e.said({ level: 'The level', why: 'The reason' })
  }
}

async function correct() {
  try {
    await lesson.touch({ name: 'correct', item: props.place.item.id, code: mark.value, why: reason.value })
    open.value = false
    problem.value = reason.value = mark.value = ''
    emit('corrected')
  } catch (e) {
    if (!(e instanceof RuleError)) throw e
    problem.value = e.said({ code: 'The mark', why: 'The reason' })
  }
}
</script>

<template>
  <article :data-item="place.item.id">
    <svg viewBox="0 0 16 44" aria-hidden="true"><TapeTick :x="8" :mark="s.mark" /></svg>
    <span class="figure soft small">{{ place.number }}</span>
    <div>
      <p>
        <b>{{ place.item.challenge }}</b> <span :class="markTone(s.mark)">{{ markWords[s.mark] }}</span>
        <span v-if="s.outOfOrder && s.mark !== 'out-of-order'" class="attend">, out of order</span>
      </p>
      <p v-if="s.first" class="small" data-part="first">
        Signed first: <b>{{ markWords[s.first.mark] }}</b>, {{ shows(s.first.level) }}. Corrected because
        {{ s.first.why }}
      </p>
      <p v-for="r in s.reasons" :key="r.code + r.message" class="soft small">{{ r.message }}</p>
      <p v-if="s.override" class="small">
        Proposed {{ shows(s.proposed) }}; the instructor gave <b>{{ shows(s.override.level) }}</b>:
        {{ s.override.reason }}
      </p>
    </div>
    <b class="grade">{{ shows(s.level) }}</b>
    <AppButton v-if="!closed" class="quiet" :aria-expanded="open" @click="open = !open">Change</AppButton>
    <AppButton
      v-if="corrects"
      class="quiet"
      :aria-expanded="open"
      data-action="correct"
      @click="open = !open"
    >
      Correct
    </AppButton>
    <form v-if="open && corrects" @submit.prevent="correct">
      <p class="small soft">
        The mark that should stand. What was signed stays beside it, and the correction is signed by itself.
      </p>
      <AppButton
        v-for="m in corrections"
        :key="m.id"
        :class="{ chosen: mark === m.id }"
        :aria-pressed="mark === m.id"
        :data-correct="m.id"
        @click="mark = m.id"
      >
        {{ m.words }}
      </AppButton>
      <AppInput v-model="reason" type="text" name="reason" placeholder="Why" maxlength="1000" />
      <AppButton type="submit" class="primary" data-action="write-correction">Write the correction</AppButton>
      <p v-if="problem" class="problem" role="alert">{{ problem }}</p>
    </form>
    <form v-else-if="open" @submit.prevent="override">
      <AppButton
        v-for="step in scale.steps"
        :key="step.label"
        :class="{ chosen: level === step.means }"
        :data-level="step.means"
        @click="level = step.means"
      >
        {{ step.label }}
      </AppButton>
      <AppInput v-model="reason" type="text" name="reason" placeholder="Why" maxlength="1000" />
      <AppButton type="submit" class="primary" data-action="override">Change the level</AppButton>
      <p v-if="problem" class="problem">{{ problem }}</p>
    </form>
  </article>
</template>

<style scoped>
article {
  display: grid;
  grid-template-columns: 16px 40px minmax(0, 1fr) auto auto;
  gap: 4px 10px;
  align-items: center;
  border-bottom: 1px solid var(--fine);
  padding: 4px 0;
}

svg {
  width: 16px;
  height: 40px;
}

.grade {
  font-size: 17px;
}

form {
  grid-column: 1 / -1;
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  padding-bottom: 8px;
}

form button {
  min-height: 48px;
}

form input {
  flex: 1 1 220px;
  width: auto;
}

form p {
  width: 100%;
}
</style>
