<script setup lang="ts">
import { onMounted, shallowRef } from 'vue'

import { api, take } from '@/api/client'
import type { Schemas } from '@/schema/schemas'
import { shape } from '@/shared/words'

/** What on the school's aircraft goes to its limit, before it is met; each leads to its chart. */
defineProps<{ title?: string }>()
const notices = shallowRef<Schemas['TrendNotice'][]>([])
onMounted(async () => {
  // Where they cannot be had the rest of the page stands without them.
  notices.value = await take(api.GET('/api/v1/trends')).catch(() => [])
})
</script>

<template>
  <section v-if="notices.length">
    <h2 v-if="title" class="ruled">{{ title }}</h2>
    <p v-for="n in notices" :key="n.registration + n.series" :class="n.state" data-part="trends">
      {{ shape(n.state) }}
      <router-link :to="`/aircraft/${n.registration}`"
        ><b class="figure">{{ n.registration }}</b> {{ n.label }}: {{ n.words }}</router-link
      >
    </p>
  </section>
</template>

<style scoped>
h2 {
  font-size: 18px;
  margin: 16px 0 6px;
}
</style>
