<script setup lang="ts">
import { computed, ref, watch } from 'vue'

import AppButton from '@/base/AppButton.vue'
import AppInput from '@/base/AppInput.vue'
import AppText from '@/base/AppText.vue'
import { picturesWork, sendPictures, takePicture } from '@/device/pictures'
import DecisionRow from '@/lesson/DecisionRow.vue'
import FindingPicture from '@/lesson/FindingPicture.vue'
import { useLesson } from '@/lesson/lesson'
import { useOutbox } from '@/outbox/outbox'
import { RuleError } from '@/rules/rules'
import AppDialog from '@/shared/AppDialog.vue'
import SearchSelect from '@/shared/SearchSelect.vue'
import { inWords } from '@/shared/errors'

const props = defineProps<{ reading: string; suggested: string }>()
const open = defineModel<boolean>({ required: true })
const lesson = useLesson()
const words = ref('')
const told = ref('')
const why = ref('')
const decision = ref('')
const problem = ref('')
const pictures = ref<string[]>([])
const outbox = useOutbox()
const most = 4
const people = computed(() => (lesson.view?.kit.people ?? []).map((p) => [p, p] as const))

watch(open, (now) => {
  if (!now) return
  words.value = props.suggested
  told.value = why.value = decision.value = problem.value = ''
  pictures.value = []
})

const labels: Record<string, string> = {
  words: 'What was found',
  decision: 'The decision',
  told: 'Who was told',
  why: 'Why',
}

/** A picture that was taken or chosen; it is kept on this device at once. */
async function picture(e: Event) {
  const input = e.target as HTMLInputElement
  const file = input.files?.[0]
  input.value = ''
  if (!file) return
  problem.value = ''
  try {
    const hash = await takePicture(outbox.owner, lesson.view!.lesson.id, file)
    if (!pictures.value.includes(hash)) pictures.value = [...pictures.value, hash]
  } catch (why) {
    problem.value = inWords(why)
  }
}

async function write() {
  try {
    await lesson.touch({
      name: 'finding',
      about: props.reading,
      words: words.value,
      decision: decision.value,
      told: told.value,
      why: why.value,
      pictures: pictures.value,
    })
    open.value = false
    await sendPictures(outbox.owner, pictures.value)
    void outbox.send()
  } catch (e) {
    if (!(e instanceof RuleError)) throw e
    problem.value = e.said(labels)
  }
}
</script>

<template>
  <AppDialog v-model="open" :title="`Finding at ${lesson.live?.item.challenge ?? ''}`">
    <form class="form" novalidate @submit.prevent="write">
      <label
        >What was found, with its number
        <AppText v-model="words" name="words" rows="3" maxlength="2000" />
      </label>
      <div v-if="picturesWork()" class="pictures">
        <FindingPicture
          v-for="hash in pictures"
          :key="hash"
          :lesson="lesson.view!.lesson.id"
          :hash="hash"
          :words="words"
        />
        <label v-if="pictures.length < most" class="button take"
          >{{ pictures.length ? 'Another picture' : 'Take or choose a picture' }}
          <AppInput type="file" accept="image/*" capture="environment" name="picture" @change="picture"
        /></label>
        <small v-if="pictures.length" class="soft"
          >Only the picture is kept: not where or when it was taken.</small
        >
      </div>
      <DecisionRow v-model="decision" />
      <label
        >Who was told
        <SearchSelect v-model="told" name="told" :options="people" none="choose, or write a name" own
      /></label>
      <label>Why <AppInput v-model="why" type="text" name="why" maxlength="1000" /></label>
      <p v-if="problem" class="problem" role="alert">{{ problem }}</p>
      <AppButton class="primary" type="submit" data-action="write-finding">Write the finding</AppButton>
    </form>
  </AppDialog>
</template>

<style scoped>
.form {
  display: grid;
  gap: 12px;
}

.pictures {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
}

.take {
  width: auto;
  display: grid;
  place-items: center;
}

.take input {
  position: absolute;
  opacity: 0;
  width: 1px;
}

.take:focus-within {
  outline: 3px solid var(--attend);
}
</style>
