<script setup lang="ts">
import { computed, ref } from 'vue'

import AppButton from '@/base/AppButton.vue'
import AppInput from '@/base/AppInput.vue'
import { useLesson } from '@/lesson/lesson'
import AppDialog from '@/shared/AppDialog.vue'
import { severityWords } from '@/shared/words'

const open = defineModel<boolean>({ required: true })
const lesson = useLesson()
const words = ref('')
const severity = ref('')
const own = computed(() => lesson.live?.item.errors ?? [])
const kinds = computed(() => lesson.view?.kit.errorKinds ?? [])

/** One of the errors that the list itself names at the item. */
function usual(error: string) {
  lesson.touch({ name: 'error', code: 'usual', severity: severity.value, words: error })
  severity.value = words.value = ''
  open.value = false
}

function note(code: string) {
  lesson.touch({ name: 'error', code, severity: severity.value, words: words.value })
  words.value = severity.value = ''
  open.value = false
}
</script>

<template>
  <AppDialog v-model="open" :title="`Error at ${lesson.live?.item.challenge ?? ''}`" :width="760">
    <div class="row">
      <span class="soft">severity</span>
      <AppButton :class="{ chosen: severity === '' }" @click="severity = ''">the usual</AppButton>
      <AppButton
        v-for="(label, s) in severityWords"
        :key="s"
        :class="{ chosen: severity === s }"
        :data-severity="s"
        @click="severity = s"
      >
        {{ label }}
      </AppButton>
    </div>
    <label class="soft">in words, if you like <AppInput v-model="words" type="text" maxlength="400" /></label>
    <div v-if="own.length" class="kinds">
      <AppButton v-for="e in own" :key="e" class="own" data-error="usual" @click="usual(e)">{{
        e
      }}</AppButton>
    </div>
    <div class="kinds">
      <AppButton v-for="k in kinds" :key="k.code" :data-error="k.code" @click="note(k.code)">
        {{ k.label }} <small class="soft">{{ severityWords[severity || k.severity] }}</small>
      </AppButton>
    </div>
  </AppDialog>
</template>

<style scoped>
.row,
.kinds {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
  margin: 8px 0;
}

.row button {
  min-height: 44px;
  border-color: var(--hair);
}

.kinds {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(210px, 1fr));
}

.own {
  font-weight: 700;
}

.kinds button {
  text-align: left;
  line-height: 1.2;
}

small {
  display: block;
}
</style>
