<script setup lang="ts">
import { computed, reactive, ref } from 'vue'

import AppButton from '@/base/AppButton.vue'
import AppInput from '@/base/AppInput.vue'
import { useLesson } from '@/lesson/lesson'
import { RuleError } from '@/rules/rules'
import AppDialog from '@/shared/AppDialog.vue'
import ChoiceRow from '@/shared/ChoiceRow.vue'
import { useSession } from '@/shared/session'
import { engineStates, flightRules, fresh } from '@/shared/words'

/** What happens seldom, and must be in the record when it does. */
const open = defineModel<boolean>({ required: true })
const lesson = useLesson()
const why = ref('')
const hours = reactive({ meter: 'hour', when: 'start', value: '' })
const changed = reactive({ engineState: '', rules: '', night: '', oat: '', qnh: '' })
const { units } = useSession().current!
const problem = ref('')
const me = useSession().current!
const mates = computed(() => (lesson.view?.kit.observers ?? []).filter((o) => o.person !== me.account))
const sits = (person: string) => lesson.state?.observers.some((o) => o.person === person) ?? false
const labels = {
  why: 'Why',
  hours: 'The hours',
  conditions: 'What has changed',
  oat: 'The air now',
  qnh: 'The setting now',
}

function touch(mark: Parameters<typeof lesson.touch>[0]) {
  try {
    lesson.touch(mark)
    open.value = false
  } catch (e) {
    if (!(e instanceof RuleError)) throw e
    problem.value = e.said(labels)
  }
}
const typed = (text: string) => (text.trim() === '' ? undefined : Number(text))

const conditions = () => touch({ name: 'conditions', day: { ...fresh.flown, exercises: [], ...changed } })
const same = (values: readonly string[]) => values.map((v) => [v, v])
</script>

<template>
  <AppDialog v-model="open" :title="`At ${lesson.live?.item.challenge ?? ''}`" :width="760">
    <p v-if="problem" class="problem" role="alert">{{ problem }}</p>
    <div class="row">
      <AppButton data-mark="shown" @click="touch({ name: 'shown' })">
        Shown <small>by the instructor: no level</small>
      </AppButton>
      <AppButton data-mark="round" @click="touch({ name: 'round' })">
        Again <small>this phase begins a second time</small>
      </AppButton>
      <AppButton
        v-for="[place, words] in [
          ['aircraft', 'in the aircraft'],
          ['stand', 'on the practice stand'],
          ['other-simulator', 'in a simulator'],
        ] as const"
        :key="place"
        :class="{ chosen: lesson.state?.practice === place }"
        :data-place="place"
        @click="touch({ name: 'practice', place })"
      >
        {{ words }}
      </AppButton>
    </div>
    <form class="row" @submit.prevent="touch({ name: 'control', why, level: 1 })">
      <label class="grow"
        >The instructor took the control, because
        <AppInput v-model="why" type="text" name="control-why" maxlength="400"
      /></label>
      <AppButton type="submit" data-mark="control">in time</AppButton>
      <AppButton data-mark="control-unsafe" @click="touch({ name: 'control', why, level: 0 })">
        it had to be
      </AppButton>
    </form>
    <div v-if="lesson.view?.mine && mates.length" class="row">
      <span class="soft">Sits in and marks as well</span>
      <AppButton
        v-for="o in mates"
        :key="o.person"
        :class="{ chosen: sits(o.person) }"
        :aria-pressed="sits(o.person)"
        :data-observer="o.person"
        @click="sits(o.person) || touch({ name: 'observer', person: o.person, words: o.name })"
      >
        {{ o.name }}
      </AppButton>
    </div>
    <form class="changed" @submit.prevent="conditions">
      <ChoiceRow v-model="changed.engineState" name="Engine now" :choices="same(engineStates)" />
      <ChoiceRow v-model="changed.rules" name="Rules now" :choices="same(flightRules)" />
      <ChoiceRow v-model="changed.night" name="Light now" :choices="same(['day', 'night'])" />
      <div class="row">
        <label
          >Air now, {{ units.temperature }}
          <AppInput v-model="changed.oat" type="text" inputmode="decimal" name="now-oat"
        /></label>
        <label
          >Setting now, {{ units.pressure }}
          <AppInput v-model="changed.qnh" type="text" inputmode="decimal" name="now-qnh"
        /></label>
        <AppButton type="submit" data-mark="conditions">The conditions changed</AppButton>
      </div>
    </form>
    <form
      class="row"
      @submit.prevent="
        touch({ name: 'hours', meter: hours.meter, when: hours.when, hours: typed(hours.value) })
      "
    >
      <ChoiceRow
        v-model="hours.meter"
        name="Meter"
        :choices="[
          ['hour', 'hour meter'],
          ['tacho', 'tachometer'],
        ]"
      />
      <ChoiceRow
        v-model="hours.when"
        name="Read at"
        :choices="[
          ['start', 'the start'],
          ['end', 'the end'],
        ]"
      />
      <label>Hours <AppInput v-model="hours.value" type="text" inputmode="decimal" name="hours" /></label>
      <AppButton type="submit" data-mark="hours">Keep the hours</AppButton>
    </form>
  </AppDialog>
</template>

<style scoped>
.row {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  align-items: end;
  padding: 10px 0;
  border-bottom: 1px solid var(--fine);
}

.grow {
  flex: 1 1 260px;
}

.row label:not(.grow) {
  width: 150px;
}

small {
  display: block;
}

button {
  min-height: 52px;
}
</style>
