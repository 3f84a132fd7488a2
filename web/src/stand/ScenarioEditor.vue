<script setup lang="ts">
import { computed, reactive, ref } from 'vue'

import { api, take } from '@/api/client'
import AppButton from '@/base/AppButton.vue'
import AppInput from '@/base/AppInput.vue'
import AppSelect from '@/base/AppSelect.vue'
import AppText from '@/base/AppText.vue'
import type { Schemas } from '@/schema/schemas'
import FilePick from '@/shared/FilePick.vue'
import ProblemNotice from '@/shared/ProblemNotice.vue'
import { useSession } from '@/shared/session'
import { useTrying } from '@/shared/trying'
import { rules } from '@/rules/rules'
import type { Course } from './practice'

/** A scenario, written or read from a file: its day, what is wrong, who passes outside. */
const props = defineProps<{ course: Course }>()
const emit = defineEmits<{ begin: [scenario: Schemas['StandScenario']]; leave: [] }>()
const { problem, busy, tried } = useTrying()
const session = useSession()
const saved = ref('')
const mistakes = ref<string[]>([])
const empty = (): Schemas['StandScenario'] => ({
  id: '',
  title: '',
  type: props.course.type.id,
  goal: 'Start by the list, warm up, work the run-up, and say whether you would go.',
  difficulty: 2,
  day: { ...props.course.scenarios[0]!.day },
  faults: [],
  outside: [],
})
const s = reactive(empty())
const items = computed(() => props.course.list.phases.flatMap((p) => p.items))
/** A scenario that was opened is saved in its place, a new one under its title. */
const named = () => ({ ...s, id: s.id || rules.slug(s.title) || 'scenario', until: s.until || undefined })
function show(from: Schemas['StandScenario']) {
  Object.assign(s, empty(), JSON.parse(JSON.stringify(from)))
  saved.value = ''
}
const save = () =>
  tried(async () => {
    const body = named()
    await take(api.PUT('/api/v1/scenarios/{id}', { params: { path: { id: body.id } }, body }))
    s.id = body.id
    saved.value = `Kept as ${body.id}.`
  })
const drop = () =>
  tried(async () => {
    await take(api.DELETE('/api/v1/scenarios/{id}', { params: { path: { id: s.id } } }))
    show(empty())
    saved.value = 'Dropped.'
  })
function picked(body: object) {
  const read = body as Schemas['ScenarioRead']
  mistakes.value = read.problems
  if (read.scenario && !read.problems.length) show(read.scenario)
}
</script>

<template>
  <main class="editor fields">
    <ProblemNotice v-model="problem" />
    <p class="row">
      <AppButton class="quiet" data-action="back-to-choice" @click="emit('leave')">back</AppButton>
      <AppSelect aria-label="Begin from" @update:model-value="show(course.scenarios[Number($event)]!)">
        <option value="" disabled selected>begin from</option>
        <option v-for="(o, i) in course.scenarios" :key="o.id" :value="i">{{ o.title }}</option>
      </AppSelect>
      <FilePick
        v-if="session.may('read-scenario')"
        name="scenario"
        words="from a file"
        accept=".yaml,.yml,.json"
        :to="() => '/api/v1/scenarios'"
        method="POST"
        @answer="picked"
        @refused="problem = $event"
      />
      <a v-if="s.id" :href="`/api/v1/scenarios/${s.id}`" download>as a file</a>
    </p>
    <p v-for="m in mistakes" :key="m" class="problem">{{ m }}</p>
    <label>title <AppInput v-model="s.title" type="text" maxlength="120" name="title" /></label>
    <label>goal <AppText v-model="s.goal" maxlength="500" rows="2" name="goal" /></label>
    <p class="row">
      <label>how hard <AppInput v-model.number="s.difficulty" type="number" min="1" max="5" /></label>
      <label
        >done after
        <AppSelect v-model="s.until">
          <option :value="undefined">the whole list</option>
          <option v-for="i in items" :key="i.id" :value="i.id">{{ i.challenge }}, {{ i.response }}</option>
        </AppSelect></label
      >
    </p>
    <h3 class="ruled">The day</h3>
    <p class="row">
      <label>°C <AppInput v-model.number="s.day.oatC" type="number" name="oat" /></label>
      <label>dew point <AppInput v-model.number="s.day.dewPointC" type="number" /></label>
      <label>hPa <AppInput v-model.number="s.day.qnhHPa" type="number" /></label>
      <label>ft <AppInput v-model.number="s.day.elevationFt" type="number" /></label>
      <label>wind from ahead, kt <AppInput v-model.number="s.day.windKt" type="number" /></label>
      <label
        >engine
        <AppSelect v-model="s.day.engineState">
          <option v-for="e in ['cold', 'warm', 'hot']" :key="e">{{ e }}</option>
        </AppSelect></label
      >
    </p>
    <h3 class="ruled">What is wrong</h3>
    <p v-for="(f, i) in s.faults" :key="i" class="row" :data-fault="i">
      <AppSelect v-model="f.fault" aria-label="Fault">
        <option v-for="k in course.faults" :key="k.id" :value="k.id">{{ k.title }}</option>
      </AppSelect>
      <label
        >how bad <AppInput v-model.number="f.severity" type="range" min="0" max="1" step="0.05" />
        {{ Math.round(f.severity * 100) }} %</label
      >
      <label v-if="course.type.engines > 1"
        >engine <AppInput v-model.number="f.engine" type="number" min="1" :max="course.type.engines"
      /></label>
      <label>from second <AppInput v-model.number="f.from" type="number" min="0" /></label>
      <AppButton class="quiet" @click="s.faults!.splice(i, 1)">leave out</AppButton>
    </p>
    <AppButton
      data-action="add-fault"
      @click="s.faults!.push({ fault: course.faults[0]!.id, severity: 0.8, engine: 1, from: 0 })"
    >
      + a fault
    </AppButton>
    <h3 class="ruled">Outside</h3>
    <p v-for="(o, i) in s.outside" :key="i" class="row">
      <AppSelect v-model="o.what" aria-label="Who">
        <option value="person">somebody walks into the propeller area</option>
        <option value="aircraft">another aircraft stands behind</option>
      </AppSelect>
      <label>from second <AppInput v-model.number="o.from" type="number" min="0" /></label>
      <label>for <AppInput v-model.number="o.for" type="number" min="1" /></label>
      <AppButton class="quiet" @click="s.outside!.splice(i, 1)">leave out</AppButton>
    </p>
    <AppButton data-action="add-outside" @click="s.outside!.push({ what: 'person', from: 10, for: 20 })">
      + somebody
    </AppButton>
    <p v-if="saved" class="within" role="status" data-part="saved">● {{ saved }}</p>
    <p class="row">
      <AppButton
        class="primary"
        :disabled="!s.title"
        data-action="try-scenario"
        @click="emit('begin', named())"
      >
        Try it
      </AppButton>
      <template v-if="session.may('save-scenario')">
        <AppButton :disabled="!s.title || busy" data-action="save-scenario" @click="save">
          Keep it for the school
        </AppButton>
        <AppButton v-if="s.id" class="quiet" :disabled="busy" data-action="drop-scenario" @click="drop">
          drop it
        </AppButton>
      </template>
    </p>
  </main>
</template>

<style scoped>
.editor {
  display: grid;
  gap: 10px;
  padding: 16px 24px;
  max-width: 900px;
  justify-items: start;
}

.editor > label,
h3 {
  width: 100%;
}

input[type='text'],
textarea {
  width: 100%;
}
</style>
