<script setup lang="ts">
import { computed, ref } from 'vue'

import type { Schemas } from '@/schema/schemas'
import AppDialog from '@/shared/AppDialog.vue'
import ChoiceRow from '@/shared/ChoiceRow.vue'
import ProblemNotice from '@/shared/ProblemNotice.vue'
import { useSession } from '@/shared/session'
import { useTrying } from '@/shared/trying'

/** The units that the person reads, and for those who decide it the school's. */
type Units = Schemas['QuantityUnits']
const open = defineModel<boolean>({ required: true })
const session = useSession()
const { problem, tried } = useTrying()
const own = ref(true)
const shown = computed<Units>(() =>
  own.value ? session.current!.own : (session.current!.settings.units ?? {}),
)

const choices = (s: Schemas['QuantitySetting']) => [
  ...(own.value
    ? [['', `as the school: ${session.current!.settings.units[s.name as keyof Units] ?? s.choices[0]}`]]
    : []),
  ...s.choices.map((c) => [c, c]),
]
const chosen = (s: Schemas['QuantitySetting']) =>
  shown.value[s.name as keyof Units] ?? (own.value ? '' : s.choices[0]!)

function choose(name: string, unit: string) {
  const units = { ...shown.value, [name]: unit || undefined } as Units
  return tried(() =>
    own.value ? session.readUnits(units) : session.decide({ ...session.current!.settings, units }),
  )
}
const secondFactor = (asked: string) =>
  tried(() => session.decide({ ...session.current!.settings, secondFactor: asked === 'asked' }))
</script>

<template>
  <AppDialog v-model="open" :title="own ? 'Units' : 'What the school decides'" :width="680">
    <ProblemNotice v-model="problem" />
    <ChoiceRow
      v-if="session.may('set-settings')"
      name="Whose"
      :model-value="own ? 'own' : 'school'"
      :choices="[
        ['own', 'mine'],
        ['school', `${session.current!.school}: all who have not chosen`],
      ]"
      @update:model-value="own = $event === 'own'"
    />
    <div data-part="units">
      <ChoiceRow
        v-for="s in session.current!.choices"
        :key="s.name + own"
        :name="s.label"
        :model-value="chosen(s)"
        :choices="choices(s)"
        :data-setting="s.name"
        @update:model-value="choose(s.name, $event)"
      />
    </div>
    <ChoiceRow
      v-if="!own"
      name="One-time codes at the sign-in of chief instructors and administrators"
      :model-value="session.current!.settings.secondFactor ? 'asked' : ''"
      :choices="[
        ['', 'as each likes'],
        ['asked', 'asked for'],
      ]"
      data-setting="second"
      @update:model-value="secondFactor"
    />
    <p class="soft small">
      What is typed and shown follows from now on. A record keeps each number as it was read, with its unit;
      limits are the same in either. Suction and manifold pressure stay in inHg, as their gauges are marked,
      and a wind written as in a report stays in knots.
    </p>
  </AppDialog>
</template>
