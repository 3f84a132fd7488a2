<script setup lang="ts">
import { ref, shallowRef } from 'vue'

import { api, take } from '@/api/client'
import AppButton from '@/base/AppButton.vue'
import AppInput from '@/base/AppInput.vue'
import type { Schemas } from '@/schema/schemas'
import StandingBar from '@/shared/StandingBar.vue'
import { dayWords, standingTone, standingWords } from '@/shared/words'
import { useTrying } from '@/shared/trying'

/** A student's record for who was given its link and code. */
const props = defineProps<{ school: string; id: string }>()
const name = ref('')
const code = ref('')
const { problem, busy, tried } = useTrying()
const shared = shallowRef<Schemas['SharedView'] | null>(null)
const asked = (lesson?: string) => ({
  params: { path: { school: props.school, id: props.id } },
  body: { code: code.value, name: name.value.trim(), lesson },
})

const look = () =>
  tried(async () => {
    shared.value = await take(api.POST('/api/v1/shared/{school}/{id}', asked()))
  })
const fetchRecord = (l: Schemas['StoreLesson']) =>
  tried(async () => {
    const file = await take(
      api.POST('/api/v1/shared/{school}/{id}/record', { ...asked(l.id), parseAs: 'blob' }),
    )
    const link = document.createElement('a')
    link.href = URL.createObjectURL(file as unknown as Blob)
    link.download = `record-${l.openedAt.slice(0, 10)}-${l.registration}.json`
    link.click()
    URL.revokeObjectURL(link.href)
  })
</script>

<template>
  <main class="page">
    <template v-if="!shared">
      <h1>A shared training record</h1>
      <form @submit.prevent="look">
        <label
          >Your name, which the student and the school will see
          <AppInput v-model="name" type="text" name="look-name" maxlength="200"
        /></label>
        <label
          >The code <AppInput v-model="code" type="text" name="look-code" autocomplete="off" maxlength="40"
        /></label>
        <p v-if="problem" class="problem" role="alert">{{ problem }}</p>
        <AppButton class="primary" type="submit" :disabled="busy || !name.trim() || !code.trim()">
          Look at it
        </AppButton>
      </form>
    </template>
    <template v-else>
      <h1>{{ shared.view.student.name }}</h1>
      <p class="soft">{{ shared.school }}, shared until {{ dayWords(shared.until.slice(0, 10)) }}</p>
      <h2 data-part="readiness">
        {{
          shared.view.readiness.ready
            ? 'Ready for the checkride standards'
            : `Not ready yet: ${shared.view.readiness.missing.length} of ${shared.view.readiness.required} stand in the way`
        }}
      </h2>
      <p v-for="b in shared.view.readiness.blocks" :key="b" class="attend">▲ {{ b }}</p>
      <section v-for="task in shared.view.tasks" :key="task.pack + task.title">
        <h3 class="soft">{{ task.title }}</h3>
        <div v-for="e in task.elements" :key="e.id" class="element">
          <span>{{ e.text }}</span>
          <StandingBar :standing="e.standing" />
          <b :class="standingTone(e.standing)">{{ standingWords[e.standing] }}</b>
        </div>
      </section>
      <h2>Lessons</h2>
      <p v-if="problem" class="problem" role="alert">{{ problem }}</p>
      <div v-for="l in shared.view.lessons" :key="l.id" class="lesson">
        <span>{{ dayWords(l.openedAt.slice(0, 10)) }}, {{ l.registration }}, {{ l.instructor }}</span>
        <AppButton v-if="l.status === 'signed'" :disabled="busy" :data-record="l.id" @click="fetchRecord(l)">
          Signed record
        </AppButton>
        <span v-else class="soft">not signed</span>
      </div>
      <p><router-link to="/verify">Verify a record that was fetched here</router-link></p>
      <p v-for="n in new Set(shared.view.notes)" :key="n" class="soft small">{{ n }}</p>
    </template>
  </main>
</template>

<style scoped>
.page {
  max-width: 860px;
  margin: 0 auto;
  padding: 6vh 24px 24px;
  display: grid;
  gap: 12px;
}

h1 {
  font-size: 30px;
  font-weight: 700;
}

h2 {
  font-size: 22px;
  font-weight: 700;
}

form {
  display: grid;
  gap: 14px;
}

.element,
.lesson {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 14px 130px;
  gap: 10px;
  align-items: center;
  min-height: 40px;
  border-bottom: 1px solid var(--fine);
}

.lesson {
  grid-template-columns: minmax(0, 1fr) auto;
}
</style>
