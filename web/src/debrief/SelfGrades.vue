<script setup lang="ts">
import { computed, reactive, ref } from 'vue'

import AppButton from '@/base/AppButton.vue'
import AppText from '@/base/AppText.vue'
import { useLesson } from '@/lesson/lesson'
import { rules } from '@/rules/rules'

/**
 * How the student saw each phase: asked before the instructor's grades are
 * shown, and beside them afterwards.
 */
const props = defineProps<{ asks: boolean }>()
const emit = defineEmits<{ given: [] }>()
const lesson = useLesson()
const words = ref('')
const mine = reactive<Record<string, number>>({})
const state = computed(() => lesson.state!)
const phases = computed(() => state.value.phases.filter((p) => p.marked > 0))
/** The instructor's, by the rules: what the phase's items show together. */
const theirs = computed(() => (props.asks || !state.value.items.length ? {} : rules.phases()))
const steps = computed(() => lesson.view!.scale.steps.toSorted((a, b) => a.means - b.means))
const at = (level?: number | null) => steps.value.findIndex((s) => s.shows.includes(level ?? -1))

async function give() {
  await lesson.touch({ name: 'self-grade', levels: { ...mine }, words: words.value })
  emit('given')
}
</script>

<template>
  <section class="part" :class="{ asks }" data-part="self">
    <h2>{{ props.asks ? 'How did you see it?' : 'How the student saw it, before seeing this' }}</h2>
    <p v-if="asks" class="soft">
      Your instructor’s grades are shown once you have said how you saw each phase.
    </p>
    <p v-else-if="!state.self" class="soft">The student has not said yet.</p>
    <div v-for="p in phases" :key="p.id" class="phase" :data-self="p.id">
      <span>{{ p.title }}</span>
      <span class="steps">
        <template v-for="(s, i) in steps" :key="s.label">
          <AppButton
            v-if="asks"
            :class="['dot', { chosen: mine[p.id] === s.means }]"
            :aria-pressed="mine[p.id] === s.means"
            :aria-label="`${p.title}: ${s.label}`"
            :title="s.label"
            @click="mine[p.id] = s.means"
          >
            {{ s.label }}
          </AppButton>
          <svg v-else viewBox="0 0 24 24" :aria-label="s.label">
            <circle cx="12" cy="12" r="2.5" class="empty" />
            <circle v-if="at(state.self?.levels[p.id]) === i" cx="12" cy="12" r="8" class="ring" />
            <rect v-if="at(theirs[p.id]) === i" x="7" y="7" width="10" height="10" class="square" />
          </svg>
        </template>
      </span>
    </div>
    <form v-if="asks" @submit.prevent="give">
      <label
        >What went well, what you would do another way, if you like
        <AppText v-model="words" name="self-words" rows="2" maxlength="2000" />
      </label>
      <AppButton
        type="submit"
        class="primary"
        :disabled="phases.some((p) => mine[p.id] === undefined)"
        data-action="self-grade"
      >
        That is how I saw it
      </AppButton>
    </form>
    <template v-else-if="state.self">
      <p class="soft small">
        ○ student&emsp;■ instructor, from {{ steps[0]?.label.toLowerCase() }} to
        {{ steps.at(-1)?.label.toLowerCase() }}
      </p>
      <p v-if="state.self.words">“{{ state.self.words }}”</p>
    </template>
  </section>
</template>

<style scoped>
.phase {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  align-items: center;
  min-height: 32px;
}

.steps {
  display: flex;
  gap: 6px;
}

svg {
  width: 30px;
  height: 26px;
}

.empty {
  fill: var(--hair);
}

.ring {
  fill: none;
  stroke: var(--ink);
  stroke-width: 2;
}

.square {
  fill: var(--ink);
}

.asks .phase {
  grid-template-columns: minmax(0, 1fr);
  padding: 6px 0;
}

.asks .steps {
  flex-wrap: wrap;
}

.dot {
  min-width: 52px;
  min-height: 52px;
  padding: 4px 8px;
  border-color: var(--hair);
}

form {
  display: grid;
  gap: 10px;
}
</style>
