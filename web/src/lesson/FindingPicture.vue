<script setup lang="ts">
import { onUnmounted, ref, watch } from 'vue'

import AppButton from '@/base/AppButton.vue'
import { pictureURL } from '@/device/pictures'
import { useOutbox } from '@/outbox/outbox'

/** A picture of a finding; touched, it fills the screen. */
const props = defineProps<{ lesson: string; hash: string; words: string }>()
const outbox = useOutbox()
const url = ref('')
const large = ref(false)
const missing = ref(false)
const drop = () => url.value.startsWith('blob:') && URL.revokeObjectURL(url.value)

watch(
  () => props.hash,
  async (hash) => {
    drop()
    missing.value = false
    url.value = await pictureURL(outbox.owner, props.lesson, hash)
  },
  { immediate: true },
)
onUnmounted(drop)
</script>

<template>
  <span v-if="missing" class="soft small">The picture is not here: it is at the school, or on its way.</span>
  <AppButton
    v-else-if="url"
    :class="['picture', { large }]"
    :aria-label="large ? 'Close the picture' : `Picture: ${words}`"
    @click="large = !large"
  >
    <img :src="url" :alt="`Picture of the finding: ${words}`" @error="missing = true" />
  </AppButton>
</template>

<style scoped>
.picture {
  padding: 0;
  border-color: var(--hair);
  width: 120px;
  height: 90px;
  overflow: hidden;
}

img {
  width: 100%;
  height: 100%;
  object-fit: cover;
  display: block;
}

.large {
  position: fixed;
  inset: 0;
  z-index: 30;
  width: auto;
  height: auto;
  background: var(--paper);
}

.large img {
  object-fit: contain;
}
</style>
