<script setup lang="ts">
import FindingPicture from '@/lesson/FindingPicture.vue'
import { shape } from '@/shared/words'

/** What stands behind a finding: every try of its check, and its pictures. */
defineProps<{
  lesson: string
  words: string
  tries: { attempt: number; words: string; state: string; recorded: boolean }[]
  pictures: string[]
}>()
</script>

<template>
  <span v-for="(t, n) in tries" :key="n" class="block small" data-part="finding-reading"
    >{{ t.recorded ? 'engine recorder' : `try ${t.attempt}` }}:
    <span :class="t.state">{{ shape(t.state) }} {{ t.words }}</span></span
  >
  <span v-if="pictures.length" class="pictures"
    ><FindingPicture v-for="h in pictures" :key="h" :lesson="lesson" :hash="h" :words="words"
  /></span>
</template>

<style scoped>
.block {
  display: block;
}

.pictures {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  margin-top: 4px;
}
</style>
