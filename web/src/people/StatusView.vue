<script setup lang="ts">
import { onMounted, shallowRef } from 'vue'

import { api, take } from '@/api/client'
import AppButton from '@/base/AppButton.vue'
import type { Schemas } from '@/schema/schemas'
import ProblemNotice from '@/shared/ProblemNotice.vue'
import TopBar from '@/shared/TopBar.vue'
import { useSession } from '@/shared/session'
import { agoWords } from '@/shared/words'
import { useTrying } from '@/shared/trying'

/** How the program and its database stand, for who looks after them. */
const zone = useSession().current!.zone
const { problem, busy, tried } = useTrying()
const status = shallowRef<Schemas['Status'] | null>(null)
const load = () =>
  tried(async () => {
    status.value = await take(api.GET('/api/v1/status'))
  })
onMounted(load)
const ago = (at: string) => agoWords(Date.parse(at), zone)
</script>

<template>
  <div class="place">
    <TopBar><b>Status</b></TopBar>
    <main class="lines">
      <ProblemNotice v-model="problem" />
      <div class="tools">
        <AppButton :disabled="busy" data-action="look" @click="load">Look again</AppButton>
      </div>
      <template v-if="status">
        <section class="part">
          <h2>What must be so</h2>
          <div v-for="c in status.checks" :key="c.name" class="line" data-part="check">
            <b>{{ c.name }}</b>
            <span :class="c.good ? 'within' : 'out'">{{ c.good ? '●' : '■' }} {{ c.says }}</span>
          </div>
        </section>
        <section class="part">
          <h2>The program</h2>
          <div class="line">
            <b>version</b><span class="figure">{{ status.version }}</span>
          </div>
          <div class="line">
            <b>rules</b><span class="figure">{{ status.rulesVersion }}</span>
          </div>
          <div class="line">
            <b>runs since</b><span>{{ ago(status.since) }}</span>
          </div>
          <div class="line">
            <b>pages that follow</b><span class="figure">{{ status.streams }} of this school</span>
          </div>
        </section>
        <section class="part">
          <h2>The records</h2>
          <div class="line">
            <b>lessons</b><span class="figure">{{ status.database.lessons }}</span>
          </div>
          <div class="line">
            <b>events</b><span class="figure">{{ status.database.events }}</span>
          </div>
          <div class="line">
            <b>seals</b
            ><span
              ><span class="figure">{{ status.database.seals }}</span
              >{{ status.database.sealedAt ? `, the last ${ago(status.database.sealedAt)}` : '' }}</span
            >
          </div>
          <div class="line">
            <b>database</b
            ><span class="figure"
              >{{ status.database.megabytes }} MB, schema {{ status.database.schema }}</span
            >
          </div>
          <div class="line">
            <b>signed in</b
            ><span class="figure">{{ status.database.sessions }} sessions, of all schools here</span>
          </div>
        </section>
        <p class="soft small">
          What is counted over time stands at /metrics, where the program was started with an address for it.
        </p>
      </template>
    </main>
  </div>
</template>

<style scoped>
.line {
  grid-template-columns: 180px minmax(0, 1fr);
}
</style>
