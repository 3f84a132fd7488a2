<script setup lang="ts">
import { computed, onMounted, shallowRef } from 'vue'

import { api, take } from '@/api/client'
import type { Schemas } from '@/schema/schemas'
import ProblemNotice from '@/shared/ProblemNotice.vue'
import TopBar from '@/shared/TopBar.vue'
import { useTrying } from '@/shared/trying'
import { classWords, dayWords, shape } from '@/shared/words'

/** The months to come: who becomes ready, and the hours that it takes, each with its spread. */
const { problem, tried } = useTrying()
const view = shallowRef<Schemas['OutlookView'] | null>(null)
onMounted(() => tried(async () => (view.value = await take(api.GET('/api/v1/outlook')))))
const monthName = (m: Schemas['OutlookMonth'], i: number) => {
  const name = new Date(`${m.from}T12:00:00Z`).toLocaleDateString('en', { month: 'long', year: 'numeric' })
  return `${name}${i === 0 ? `, from ${dayWords(m.from)}` : ''}`
}
const hours = (v: number) => Math.round(v)
const needs = computed(() => (view.value?.months ?? []).flatMap((m) => m.needs))
/** All months of the same are drawn on one scale. */
const scales = computed(() => {
  const most = new Map<string, number>()
  for (const n of needs.value) most.set(n.class, Math.max(most.get(n.class) ?? 1, n.hours.high * 1.08))
  return most
})
const rides = computed(() => Math.max(1, ...(view.value?.months ?? []).map((m) => m.checkrides.high)) * 1.08)
const at = (v: number, of: number) => Math.min(100, (100 * v) / of)
const rows = (m: Schemas['OutlookMonth']) => [
  {
    ...m.checkrides,
    of: 'checkrides',
    words: 'checkrides',
    scale: rides.value,
    had: Infinity,
    figure: m.checkrides.mean.toFixed(1),
    spread: `${m.checkrides.low} to ${m.checkrides.high}`,
    state: '',
    says: '',
  },
  ...m.needs.map((n) => ({
    ...n.hours,
    of: n.class || 'instructors',
    words: n.class ? (classWords[n.class] ?? n.class) : 'instructors',
    scale: scales.value.get(n.class)!,
    had: n.had,
    figure: `${hours(n.hours.mean)} h`,
    spread: `${hours(n.hours.low)} to ${hours(n.hours.high)}, of ${hours(n.had)} to be had`,
    state: n.state,
    says: n.words,
  })),
]
</script>

<template>
  <div class="place">
    <TopBar>
      <b>Outlook</b>
      <span v-if="view" class="soft">as of {{ dayWords(view.asOf) }}</span>
      <template #side><a href="/api/v1/outlook.csv" download>Export the table</a></template>
    </TopBar>
    <ProblemNotice v-model="problem" />
    <main v-if="view">
      <p v-if="!view.told" class="soft" data-part="none">
        Nothing can be told yet: it takes students who became ready here, to tell from them how long others
        may take.
      </p>
      <template v-else>
        <section v-for="(m, i) in view.months" :key="m.month" :data-month="m.month">
          <h2>{{ monthName(m, i) }}</h2>
          <div v-for="r in rows(m)" :key="r.of" class="row" :data-need="r.of">
            <span>{{ r.words }}</span>
            <svg viewBox="0 0 100 20" preserveAspectRatio="none" aria-hidden="true">
              <line x1="0" x2="100" y1="18" y2="18" class="axis" />
              <rect
                :x="at(r.low, r.scale)"
                y="6"
                :width="Math.max(0.6, at(r.high, r.scale) - at(r.low, r.scale))"
                height="12"
                class="band"
              />
              <line :x1="at(r.mean, r.scale)" :x2="at(r.mean, r.scale)" y1="2" y2="18" class="mean" />
              <line
                v-if="r.had < r.scale"
                :x1="at(r.had, r.scale)"
                :x2="at(r.had, r.scale)"
                y1="0"
                y2="20"
                class="had"
              />
            </svg>
            <b class="figure">{{ r.figure }}</b>
            <span class="soft small">{{ r.spread }}</span>
            <span :class="[r.state, 'small']">{{ r.state ? `${shape(r.state)} ${r.says}` : '' }}</span>
          </div>
        </section>
        <p v-for="w in view.words" :key="w" class="soft small">{{ w }}</p>
      </template>
    </main>
  </div>
</template>

<style scoped>
main {
  padding: 6px 24px 30px;
  max-width: 1100px;
}

h2 {
  font-size: 18px;
  font-weight: 700;
  margin-top: 12px;
  border-bottom: 1px solid var(--ink);
}

.row {
  display: grid;
  grid-template-columns: 190px minmax(0, 1fr) 70px 210px 220px;
  gap: 14px;
  align-items: center;
  min-height: 34px;
  border-bottom: 1px solid var(--fine);
}

svg {
  width: 100%;
  height: 22px;
}

line {
  vector-effect: non-scaling-stroke;
}

.axis {
  stroke: var(--fine);
}

.band {
  fill: var(--hair);
}

.mean {
  stroke: var(--ink);
  stroke-width: 3;
}

.had {
  stroke: var(--out);
  stroke-width: 2;
}

.row .figure {
  text-align: right;
}

@media (max-width: 900px) {
  .row {
    grid-template-columns: minmax(0, 1fr) auto auto;
    padding: 6px 0;
  }

  .row svg {
    grid-column: 1 / -1;
    order: 5;
  }

  .row > :last-child {
    grid-column: 1 / -1;
    order: 6;
  }
}
</style>
