<script setup lang="ts">
import 'element-plus/es/components/alert/style/css'

import { ElAlert } from 'element-plus'

/** What went wrong at a place, in plain words; nothing while all is well. */
const text = defineModel<string>({ required: true })
</script>

<template>
  <ElAlert
    v-if="text"
    class="notice"
    type="error"
    effect="light"
    :title="text"
    close-text="Understood"
    @close="text = ''"
  />
</template>

<style scoped>
.notice {
  margin: 8px 0;
}
</style>
