<script setup lang="ts">
import { computed } from 'vue'

import AppButton from '@/base/AppButton.vue'
import { useItemName } from '@/debrief/names'
import { useLesson } from '@/lesson/lesson'
import type { Again } from '@/lesson/signing'
import SignBox from '@/sign-in/SignBox.vue'
import { useTrying } from '@/shared/trying'
import { count, dayWords } from '@/shared/words'

/** The end of a lesson: its signature, what became of one made on this device, or what has to be done before. */
const props = defineProps<{ id: string; mine: boolean; own: boolean }>()
const lesson = useLesson()
const name = useItemName()
const { problem, busy, tried } = useTrying()
const state = computed(() => lesson.state!)
const signed = computed(() => state.value.seals.length > 0)
const unsigned = computed(() => state.value.addenda.filter((a) => !a.signed))
const end = () => tried(() => lesson.touch({ name: 'end' }))
const sign = (again: Again) =>
  tried(async () => {
    await lesson.sign(again)
    await lesson.load(props.id)
  })
/** What was not there when it was signed on this device. */
const cameSince = computed(() => {
  const seen = new Set(lesson.signedHere?.seen)
  return lesson.events
    .filter((e) => !seen.has(e.id))
    .map((e) => ({ id: e.id, kind: e.kind, item: name((e.payload as { item?: string } | null)?.item) }))
})
</script>

<template>
  <section v-if="signed && !unsigned.length" class="part" data-part="signed">
    <h2 class="within">● Signed</h2>
    <p>
      {{ count(state.seals[0]!.events, 'event') }}, rules {{ state.seals[0]!.rulesVersion }},
      {{ dayWords(state.seals[0]!.wall.slice(0, 10)) }}
    </p>
    <p class="figure small soft seal">{{ state.seals[0]!.hash }}</p>
    <router-link :to="`/students/${lesson.view!.lesson.studentId}`">{{
      own ? 'My standing' : `Standing of ${lesson.view!.lesson.student}`
    }}</router-link>
  </section>
  <section v-else-if="mine" class="part">
    <h2>Sign</h2>
    <p v-for="p in state.problems" :key="p.message" class="problem">{{ name(p.item) }}: {{ p.message }}</p>
    <AppButton v-if="!state.ended" class="primary wide" :disabled="busy" data-action="end" @click="end">
      End the lesson
    </AppButton>
    <p v-else-if="lesson.signedHere && !lesson.signedHere.reason" class="within" data-part="promised">
      ● Signed on this device at {{ lesson.signedHere.at.slice(11, 16) }} UTC. The school seals it as soon as
      it has it.
    </p>
    <div v-else-if="lesson.signedHere" class="problem" data-part="came-back">
      <p>Your signature came back: {{ lesson.signedHere.reason }}</p>
      <p v-for="e in cameSince" :key="e.id">Came since: {{ e.kind.replaceAll('-', ' ') }} {{ e.item }}</p>
      <AppButton data-action="look-again" @click="lesson.dropSignature()">
        I have looked: sign again
      </AppButton>
    </div>
    <SignBox
      v-else
      :words="signed ? 'Sign what was added' : 'Sign the lesson'"
      :busy="busy"
      :off="state.problems.length > 0"
      action="sign"
      @sign="sign"
    />
  </section>
  <p v-if="problem" class="problem" role="alert">{{ problem }}</p>
</template>

<style scoped>
.wide {
  min-height: 72px;
  font-size: 20px;
}

.seal {
  overflow-wrap: anywhere;
}
</style>
