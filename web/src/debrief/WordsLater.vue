<script setup lang="ts">
import { computed, reactive, ref } from 'vue'

import AppButton from '@/base/AppButton.vue'
import AppInput from '@/base/AppInput.vue'
import DecisionRow from '@/lesson/DecisionRow.vue'
import { useLesson } from '@/lesson/lesson'
import type { Place } from '@/lesson/places'
import { RuleError } from '@/rules/rules'
import SearchSelect from '@/shared/SearchSelect.vue'
import { clockWords, severityWords } from '@/shared/words'

/** What was noted with one touch is put into words: errors by kind, findings with their decision. */
const lesson = useLesson()
const noted = computed(() => [
  ...(lesson.state?.errors ?? []).filter((e) => e.code === 'noted').map((e) => ({ ...e, of: 'error' })),
  ...(lesson.state?.findings ?? []).filter((f) => f.noted).map((f) => ({ ...f, of: 'finding' })),
])
const place = (item?: string): Place | undefined => lesson.places.find((p) => p.item.id === item)
type Said = { code: string; severity: string; words: string; decision: string; told: string; why: string }
const said = reactive<Record<string, Said>>({})
const of = (event: string) =>
  (said[event] ??= { code: '', severity: '', words: '', decision: '', told: '', why: '' })
const problem = ref('')
const kinds = computed(() => (lesson.view?.kit.errorKinds ?? []).map((k) => [k.code, k.label] as const))
const people = computed(() => (lesson.view?.kit.people ?? []).map((p) => [p, p] as const))
const labels = {
  code: 'What kind of error it was',
  words: 'What was found',
  decision: 'The decision',
  told: 'Who was told',
}

async function say(event: string) {
  problem.value = ''
  try {
    await lesson.touch({ name: 'word', about: event, ...of(event) })
    delete said[event]
  } catch (e) {
    if (!(e instanceof RuleError)) throw e
    problem.value = e.said(labels)
  }
}
const takeBack = (event: string) => lesson.touch({ name: 'unnote', about: event })
</script>

<template>
  <section v-if="noted.length" class="part" data-part="words-later">
    <h2 class="attend">▲ Noted, to be said</h2>
    <form v-for="n in noted" :key="n.event" :data-noted="n.event" @submit.prevent="say(n.event)">
      <p>
        <b>{{ n.of === 'error' ? 'Error' : 'Finding' }}</b> at {{ clockWords(n.atMs) }},
        {{ place(n.item)?.item.challenge }}
      </p>
      <template v-if="n.of === 'error'">
        <SearchSelect
          v-model="of(n.event).code"
          name="noted-kind"
          :options="kinds"
          none="what kind of error"
        />
        <SearchSelect
          v-model="of(n.event).severity"
          name="noted-severity"
          :options="Object.entries(severityWords)"
          none="severity: the usual"
        />
      </template>
      <AppInput
        v-model="of(n.event).words"
        type="text"
        name="noted-words"
        placeholder="In words"
        maxlength="2000"
      />
      <template v-if="n.of === 'finding'">
        <DecisionRow v-model="of(n.event).decision" />
        <SearchSelect
          v-model="of(n.event).told"
          name="noted-told"
          :options="people"
          none="who was told"
          own
        />
        <AppInput v-model="of(n.event).why" type="text" name="noted-why" placeholder="Why" maxlength="1000" />
      </template>
      <p v-if="problem" class="problem" role="alert">{{ problem }}</p>
      <div class="buttons">
        <AppButton type="submit" class="primary" data-action="say-noted">Say it so</AppButton>
        <AppButton class="quiet" data-action="take-back" @click="takeBack(n.event)">
          It was nothing
        </AppButton>
      </div>
    </form>
  </section>
</template>

<style scoped>
form {
  display: grid;
  gap: 8px;
}

form {
  background: var(--live);
  padding: 12px;
}

.buttons {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}

.buttons button {
  min-height: 48px;
}
</style>
