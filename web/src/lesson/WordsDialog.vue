<script setup lang="ts">
import { ref, watch } from 'vue'

import AppButton from '@/base/AppButton.vue'
import AppText from '@/base/AppText.vue'
import { useLesson } from '@/lesson/lesson'
import AppDialog from '@/shared/AppDialog.vue'
import { markWords } from '@/shared/words'

/** A mark with words: what a long press opens. */
const props = defineProps<{ mark: string }>()
const open = defineModel<boolean>({ required: true })
const lesson = useLesson()
const words = ref('')
watch(open, (now) => now && (words.value = ''))

async function keep() {
  const item = lesson.live!.item.id
  await lesson.touch({ name: 'note', item, words: words.value })
  await lesson.touch({ name: props.mark, item })
  open.value = false
}
</script>

<template>
  <AppDialog v-model="open" :title="`${markWords[mark]}: ${lesson.live?.item.challenge ?? ''}`">
    <form @submit.prevent="keep">
      <label>In words <AppText v-model="words" name="mark-words" rows="3" maxlength="2000" /> </label>
      <AppButton class="primary" type="submit" :disabled="!words.trim()" data-action="keep-words">
        Mark it, with these words
      </AppButton>
    </form>
  </AppDialog>
</template>

<style scoped>
form {
  display: grid;
  gap: 12px;
}
</style>
