<script setup lang="ts">
import { ref, watch } from 'vue'

import { api, take } from '@/api/client'
import AppButton from '@/base/AppButton.vue'
import type { Schemas } from '@/schema/schemas'
import { useSession } from '@/shared/session'

/** What somebody is told of their account, such as that a code to it was given out, until they have read it. */
const session = useSession()
const notices = ref<Schemas['StoreNotice'][]>([])
watch(
  () => session.current?.account,
  async (account) => {
    notices.value = account ? await take(api.GET('/api/v1/account/notices')).catch(() => []) : []
  },
  { immediate: true },
)
async function read(id: string) {
  await take(api.POST('/api/v1/account/notices/{id}/read', { params: { path: { id } } })).catch(
    () => undefined,
  )
  notices.value = notices.value.filter((n) => n.id !== id)
}
</script>

<template>
  <p v-for="n in notices" :key="n.id" class="told attend" role="status" data-part="notice">
    <span class="words">▲ {{ n.words }}</span>
    <AppButton data-action="read-notice" @click="read(n.id)">I have read this</AppButton>
  </p>
</template>

<style scoped>
.told {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 16px;
  align-items: center;
  margin: 0;
  padding: 8px 16px;
  background: var(--live);
  border-bottom: 1px solid var(--hair);
  color: var(--ink);
}

.words {
  flex: 1 1 260px;
}
</style>
