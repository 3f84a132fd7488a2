<script setup lang="ts">
import { onMounted, ref, shallowRef } from 'vue'

import { api, take } from '@/api/client'
import AppButton from '@/base/AppButton.vue'
import type { Schemas } from '@/schema/schemas'
import ProblemNotice from '@/shared/ProblemNotice.vue'
import StandingBar from '@/shared/StandingBar.vue'
import { useTrying } from '@/shared/trying'

/** Whom a version of the policy would move if it served today. */
const props = defineProps<{ version: number; dirty: boolean }>()
const { problem, tried } = useTrying()
const preview = shallowRef<Schemas['Preview'] | null>(null)
const open = ref('')
onMounted(() =>
  tried(async () => {
    preview.value = await take(
      api.GET('/api/v1/policy/{version}/preview', { params: { path: { version: props.version } } }),
    )
  }),
)
</script>

<template>
  <section class="preview" aria-label="Whom it moves">
    <ProblemNotice v-model="problem" />
    <p v-if="dirty" class="attend">▲ What was not saved yet is not in it. Save, and open this again.</p>
    <p v-if="!preview && !problem" class="soft" role="status">Judging every student by both…</p>
    <template v-if="preview">
      <h2 data-part="moved">
        {{
          preview.moved.length
            ? `It would move ${preview.moved.length} of ${preview.students} students`
            : `It would move none of ${preview.students} students`
        }}
      </h2>
      <p class="soft">As if it served today; signed lessons stay as they are.</p>
      <div v-for="m in preview.moved" :key="m.student" class="student" :data-moved="m.student">
        <AppButton
          class="quiet"
          :aria-expanded="open === m.student"
          @click="open = open === m.student ? '' : m.student"
        >
          <b>{{ m.name }}</b>
          <span :class="m.would ? 'within' : m.ready ? 'out' : 'soft'">
            <template v-if="m.ready !== m.would">{{
              m.would ? '● would be ready' : '■ would no longer be ready'
            }}</template>
            <template v-else>{{ m.ready ? 'stays ready' : 'not ready either way' }}</template>
          </span>
          <span class="figure">{{ m.met }} of {{ m.required }} → {{ m.wouldMet }} of {{ m.wouldNeed }}</span>
          <span class="soft">{{
            m.elements.length === 1 ? '1 element moves' : `${m.elements.length} elements move`
          }}</span>
        </AppButton>
        <div v-if="open === m.student" class="elements">
          <p v-for="e in m.elements" :key="e.element">
            <span>{{ e.text }}</span>
            <StandingBar :standing="e.is" /><span class="soft">{{ e.is }}</span>
            <span>→</span>
            <StandingBar :standing="e.would" /><b>{{ e.would }}</b>
          </p>
        </div>
      </div>
    </template>
  </section>
</template>

<style scoped>
.preview {
  max-width: 900px;
}

h2 {
  font-size: 22px;
  font-weight: 700;
}

.student {
  border-bottom: 1px solid var(--fine);
}

.student > button {
  display: grid;
  grid-template-columns: minmax(0, 3fr) minmax(0, 3fr) 150px 140px;
  gap: 12px;
  width: 100%;
  text-align: left;
  align-items: center;
  min-height: 48px;
}

.elements p {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 24px 110px 20px 24px 110px;
  gap: 8px;
  align-items: center;
  padding: 2px 8px;
}

@media (max-width: 700px) {
  .student > button {
    grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  }

  .elements p {
    grid-template-columns: 24px minmax(0, 1fr) 20px 24px minmax(0, 1fr);
  }

  .elements p > :first-child {
    grid-column: 1 / -1;
  }
}
</style>
