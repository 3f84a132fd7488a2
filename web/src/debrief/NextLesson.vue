<script setup lang="ts">
import { defineAsyncComponent, onMounted, ref, shallowRef } from 'vue'

import { api, take } from '@/api/client'
import AppButton from '@/base/AppButton.vue'
import type { LessonView, StudentView } from '@/schema/schemas'
import { useSession } from '@/shared/session'

const BookDialog = defineAsyncComponent(() => import('@/schedule/BookDialog.vue'))

/** What the student's plan proposes next, and the way to book it. */
const props = defineProps<{ view: LessonView }>()
const session = useSession()
const student = shallowRef<StudentView | null>(null)
const booking = ref(false)
const booked = ref(false)
onMounted(async () => {
  const params = { path: { id: props.view.lesson.studentId }, query: {} }
  student.value = await take(api.GET('/api/v1/students/{id}', { params })).catch(() => null)
})
</script>

<template>
  <section v-if="student" class="part" data-part="next-lesson">
    <h2>Next lesson</h2>
    <div v-if="student.readiness.plan[0]" class="row">
      <p>
        {{ student.readiness.plan[0].title }}
        <span class="soft small block"
          >shows {{ student.readiness.plan[0].elements.length }} of the
          {{ student.readiness.missing.length + student.readiness.blocks.length }} in the way</span
        >
      </p>
      <AppButton v-if="session.may('book') && !booked" data-action="book-next" @click="booking = true">
        Book it
      </AppButton>
      <b v-else-if="booked" class="within">● Booked</b>
    </div>
    <p v-else class="soft">
      {{
        student.readiness.ready
          ? 'Nothing is missing for the checkride standards.'
          : 'No lesson closes what is open.'
      }}
    </p>
    <BookDialog
      v-if="booking"
      v-model="booking"
      :student="view.lesson.studentId"
      :registration="view.lesson.registration"
      @booked="booked = true"
    />
  </section>
</template>

<style scoped>
.row {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  gap: 12px;
  align-items: center;
}
</style>
