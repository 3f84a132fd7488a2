<script setup lang="ts">
import { onMounted, reactive, ref, shallowRef } from 'vue'

import { api, take } from '@/api/client'
import AppButton from '@/base/AppButton.vue'
import AppInput from '@/base/AppInput.vue'
import type { Schemas } from '@/schema/schemas'
import ProblemNotice from '@/shared/ProblemNotice.vue'
import TopBar from '@/shared/TopBar.vue'
import { useSession } from '@/shared/session'
import { dayIn, dayWords, timeWords } from '@/shared/words'
import { useTrying } from '@/shared/trying'

/** Who did what to people, aircraft, lists, findings and records. It is only ever added to. */
const zone = useSession().current!.zone
const { problem, busy, tried } = useTrying()
const lines = shallowRef<Schemas['StoreAuditLine'][] | null>(null)
const more = ref(false)
const asked = reactive({ words: '', from: '', until: '' })

const query = () => Object.fromEntries(Object.entries(asked).filter(([, v]) => v))
const look = (before = 0) =>
  tried(async () => {
    const page = await take(api.GET('/api/v1/audit-log', { params: { query: { ...query(), before } } }))
    lines.value = before ? [...lines.value!, ...page.lines] : page.lines
    more.value = page.more
  })
onMounted(() => look())
const table = () => `/api/v1/audit-log.csv?${new URLSearchParams(query() as Record<string, string>)}`
</script>

<template>
  <div class="place">
    <TopBar><b>Who did what</b></TopBar>
    <main class="lines">
      <ProblemNotice v-model="problem" />
      <form class="tools" @submit.prevent="look()">
        <AppInput
          v-model="asked.words"
          type="search"
          name="done-words"
          placeholder="A person, a deed, an aircraft"
          aria-label="Words"
          maxlength="200"
        />
        <label>from <AppInput v-model="asked.from" type="date" name="done-from" /></label>
        <label>until <AppInput v-model="asked.until" type="date" name="done-until" /></label>
        <AppButton type="submit" class="primary" data-action="look" :disabled="busy">Look</AppButton>
        <a :href="table()" download>Export the table</a>
      </form>
      <template v-if="lines">
        <p v-if="!lines.length" class="soft">Nothing is found: other words or other days may find it.</p>
        <div v-for="d in lines" :key="d.id" class="line" data-part="done">
          <span class="soft">{{ dayWords(dayIn(d.at, zone)) }}, {{ timeWords(d.at, zone) }}</span>
          <b>{{ d.by || 'nobody signed in' }}</b>
          <span>{{ d.what }}</span>
          <span>{{ d.subject }}</span>
          <span class="soft small">{{ d.address }}</span>
        </div>
        <AppButton v-if="more" data-action="more" :disabled="busy" @click="look(lines.at(-1)!.id)">
          Earlier ones
        </AppButton>
      </template>
    </main>
  </div>
</template>

<style scoped>
.tools input[type='search'] {
  flex: 1 1 240px;
  min-height: 44px;
}

.line {
  grid-template-columns: 130px minmax(0, 1fr) minmax(0, 1.8fr) minmax(0, 1.2fr) 110px;
  overflow-wrap: anywhere;
}

@media (max-width: 800px) {
  .line {
    grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  }

  .line > :nth-child(3) {
    grid-column: 1 / -1;
  }
}
</style>
