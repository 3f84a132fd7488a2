<script setup lang="ts">
import 'element-plus/es/components/progress/style/css'
import 'element-plus/es/components/upload/style/css'

import { ElProgress, ElUpload, type UploadFile } from 'element-plus'
import { onScopeDispose, ref } from 'vue'

import { Refused, sendText } from '@/api/client'
import AppButton from '@/base/AppButton.vue'

/** A file, chosen or dropped, sent as text; its answer as the server gave it. */
const props = defineProps<{
  name: string
  words: string
  accept: string
  /** Where it goes, by the file's name. */
  to: (name: string) => string
  method: 'POST' | 'PUT'
}>()
const emit = defineEmits<{
  begin: []
  answer: [body: object, name: string, text: string]
  refused: [reason: string]
}>()
const reading = ref('')
let gate: AbortController | undefined
const cancel = () => gate?.abort()
onScopeDispose(cancel)

async function send(file: UploadFile) {
  cancel()
  const own = (gate = new AbortController())
  reading.value = file.name
  emit('begin')
  try {
    const text = await file.raw!.text()
    emit('answer', await sendText(props.to(file.name), props.method, text, own.signal), file.name, text)
  } catch (e) {
    if (e instanceof Refused) emit('refused', e.message)
    else if (!own.signal.aborted)
      emit('refused', 'The school cannot be reached. The file is still yours; try again.')
  } finally {
    if (gate === own) reading.value = ''
  }
}
</script>

<template>
  <div class="pick">
    <ElUpload
      :name="name"
      :accept="accept"
      :auto-upload="false"
      :show-file-list="false"
      :on-change="send"
      action="#"
      drag
      >{{ words }}</ElUpload
    >
    <p v-if="reading" class="reading" role="status">
      <ElProgress :percentage="50" :show-text="false" :duration="2" indeterminate />
      <span>Reading {{ reading }}</span>
      <AppButton class="quiet" data-action="stop-reading" @click="cancel">Stop</AppButton>
    </p>
  </div>
</template>

<style scoped>
.reading {
  display: grid;
  grid-template-columns: 120px minmax(0, 1fr) auto;
  gap: 10px;
  align-items: center;
}

.pick :deep(.el-upload-dragger) {
  padding: 14px 18px;
  color: var(--ink);
}
</style>
