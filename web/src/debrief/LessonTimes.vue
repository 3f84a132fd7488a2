<script setup lang="ts">
import { computed } from 'vue'

import type { Schemas } from '@/schema/schemas'
import { useSession } from '@/shared/session'
import { timeWords } from '@/shared/words'

/** What the lesson took, by meter and clock, and what does not fit together. */
const props = defineProps<{ openedAt: string; beside: Schemas['Beside'] }>()
const { zone } = useSession().current!
const t = computed(() => props.beside.times)
const clock = (ms: number) => timeWords(Date.parse(props.openedAt) + ms, zone)
const long = (minutes: number) =>
  minutes >= 60 ? `${Math.floor(minutes / 60)} h ${minutes % 60} min` : `${minutes} min`
const meters = { hour: 'Hour meter', tacho: 'Tachometer' } as Record<string, string>
const tenths = (n: number) => `${Math.floor(n / 10)}.${n % 10} h`
const figure = (n: number) =>
  n.toLocaleString('en-GB', { minimumFractionDigits: 1, maximumFractionDigits: 1 })
</script>

<template>
  <section class="part" data-part="times">
    <h2>Times</h2>
    <p v-for="m in t.meters" :key="m.meter" class="row">
      <b>{{ meters[m.meter] }}</b> <span class="figure">{{ figure(m.from) }} to {{ figure(m.to) }}</span>
      <b class="figure">{{ tenths(m.tenths) }}</b>
    </p>
    <p v-if="t.blockMinutes" class="row">
      <b>Block</b> <span class="figure">{{ clock(t.offMs) }} to {{ clock(t.onMs) }}</span>
      <b class="figure">{{ long(t.blockMinutes) }}</b>
    </p>
    <p class="row">
      <b>Flight</b>
      <span class="soft">{{ t.rule === 'block' ? 'moving off to shutdown' : 'by the hour meter' }}</span>
      <b class="figure">{{ long(t.flightMinutes) }}</b>
    </p>
    <p v-if="t.paper" class="attend" data-part="paper">▲ {{ t.paper }}</p>
    <p v-else class="row">
      <b>Ground</b> <span class="soft">of {{ long(t.lessonMinutes) }} in all</span>
      <b class="figure">{{ long(t.groundMinutes) }}</b>
    </p>
    <p v-for="d in [...t.doubts, ...beside.overlaps]" :key="d" class="attend">▲ {{ d }}</p>
  </section>
</template>

<style scoped>
.row {
  display: grid;
  grid-template-columns: 110px minmax(0, 1fr) auto;
  gap: 8px;
}
</style>
