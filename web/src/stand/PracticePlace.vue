<script setup lang="ts">
import { onMounted, shallowRef } from 'vue'
import { useRouter } from 'vue-router'

import { api, take } from '@/api/client'
import type { Schemas } from '@/schema/schemas'
import ProblemNotice from '@/shared/ProblemNotice.vue'
import TopBar from '@/shared/TopBar.vue'
import { useTrying } from '@/shared/trying'
import StandDebrief from './StandDebrief.vue'
import { course as fetched, type Course } from './practice'

/** A practice that is kept, as it came out. */
const props = defineProps<{ id: string }>()
const router = useRouter()
const { problem, tried } = useTrying()
const view = shallowRef<Schemas['PracticeView'] | null>(null)
const course = shallowRef<Course | null>(null)
onMounted(() =>
  tried(async () => {
    const kept = await take(api.GET('/api/v1/practice/{id}', { params: { path: { id: props.id } } }))
    course.value = await fetched(kept.run.scenario.type)
    view.value = kept
  }),
)
</script>

<template>
  <div class="place">
    <TopBar>
      <b>Practice</b>
      <template v-if="view">
        <span>{{ view.practice.title }}</span>
        <span class="soft"
          >{{ view.practice.student }}, {{ view.practice.on }}, {{ view.practice.mode }}</span
        >
      </template>
    </TopBar>
    <ProblemNotice v-model="problem" />
    <StandDebrief
      v-if="view"
      :course="course!"
      :run="view.run"
      :score="view.score"
      read
      @leave="router.push('/stand')"
    />
  </div>
</template>
