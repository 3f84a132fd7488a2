<script setup lang="ts">
import AppButton from '@/base/AppButton.vue'
import { help } from '@/shared/help'
import { canSpeak, speaks, tones } from '@/lesson/aids'
import { letters } from '@/lesson/keys'
import AppDialog from '@/shared/AppDialog.vue'
import OnOff from '@/shared/OnOff.vue'

const open = defineModel<boolean>({ required: true })
const keys = [
  ['space', 'Done: right, unprompted; the next item opens'],
  ['P', 'Prompted: done after a word'],
  ['H', 'Helped: done after a hand'],
  ['W', 'Wrong: done with a wrong result'],
  ['S', 'Self-fixed: noticed and put right alone (found by list, when flow comes first)'],
  ['O', 'Left out'],
  ['N', 'Not fitted'],
  ['E', 'Error by kind and severity'],
  ['F', 'Finding about the aircraft'],
  ['C', 'The rest of the phase is right: pass it'],
  ['M', 'More: shown, control taken, conditions, a second round, hours'],
  ['Z', 'Undo the last touch'],
  ['↓', 'Next item; what is passed unmarked counts as done'],
  ['↑', 'Previous item'],
  ['R', 'Into the first box of a reading; Enter keeps it, Escape leaves'],
  ['T', 'Start or stop the first timer of the reading'],
  ['1 – 4', 'Grade the question why'],
  ['[ ]', 'Previous or next phase'],
  ['X', 'Eyes outside, while the aircraft moves under your own hands; again to come back'],
  ['D', 'Debrief'],
  ['held', 'A mark held for longer takes words with it'],
  ['F1', 'Help about the place where you are'],
  ['?', 'This sheet'],
]
</script>

<template>
  <AppDialog v-model="open" title="Keys" :width="640">
    <OnOff v-model="letters" name="letter-keys" words="letters mark; turned off, only the other keys do" />
    <OnOff
      v-if="canSpeak"
      v-model="speaks"
      name="speak-challenge"
      words="the challenge is spoken, by this device’s own voice"
    />
    <OnOff v-model="tones" name="mark-tones" words="a short tone answers each mark" />
    <dl>
      <template v-for="[key, words] in keys" :key="key">
        <dt class="figure">{{ key }}</dt>
        <dd>{{ words }}</dd>
      </template>
    </dl>
    <p>
      <AppButton class="quiet" data-action="help" @click="((open = false), (help.open = true))"
        >How a lesson is worked</AppButton
      >
    </p>
  </AppDialog>
</template>

<style scoped>
dl {
  display: grid;
  grid-template-columns: 80px 1fr;
  gap: 6px 12px;
  margin: 0;
}

dd {
  margin: 0;
}
</style>
