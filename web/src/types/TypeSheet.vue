<script setup lang="ts">
import { shallowRef, watchEffect } from 'vue'

import type { AircraftType, Schemas } from '@/schema/schemas'
import { ready, rules } from '@/rules/rules'

/** The facts of an aircraft type, as its data has them. */
const props = defineProps<{ type: AircraftType }>()
const limits = shallowRef<Schemas['CheckLimits'][]>([])
const speeds = shallowRef<string[]>([])
const times = shallowRef<Schemas['HandbookRow'][]>([])
watchEffect(async () => {
  const type = props.type
  await ready('rules')
  limits.value = rules.limits(type)
  const asked = rules.sheet(type).parts.find((p) => p.id === 'durations')
  times.value = asked?.rows.filter((r) => r.text) ?? []
  speeds.value = type.speeds?.map((s) => rules.say(`${s.knots} kt`)) ?? []
})
</script>

<template>
  <div class="type">
    <p v-for="c in type.cautions" :key="c" class="attend">▲ {{ c }}</p>
    <p class="soft">
      {{ type.source }}. {{ type.engines }} {{ type.engineKind }} engine{{ type.engines > 1 ? 's' : '' }},
      ignition: {{ type.ignition }}, propeller: {{ type.propeller }}; leaning on the ground
      {{ type.leanOnGround ? 'allowed' : 'not allowed' }}.
      <template v-if="type.startOrder?.length">
        Started {{ type.startOrder.map((n) => type.engineNames?.[n - 1] ?? n).join(', then ') }}:
        {{ type.startOrderWhy }}</template
      >
    </p>
    <div class="facts">
      <section>
        <h3 class="ruled">Speeds</h3>
        <p v-for="(s, i) in type.speeds" :key="s.id" class="pair">
          <span>{{ s.label }}</span><b class="figure">{{ speeds[i] }}</b>
        </p>
      </section>
      <section>
        <h3 class="ruled">Times</h3>
        <p v-for="t in times" :key="t.path" class="pair">
          <span>{{ t.label }}</span><b class="figure">{{ t.text }} {{ t.unit }}</b>
        </p>
      </section>
      <section>
        <h3 class="ruled">Equipment</h3>
        <p v-for="e in type.equipment" :key="e.id">
          {{ e.label }}<span v-if="e.optional" class="soft"> (where fitted)</span>
        </p>
      </section>
    </div>
    <h3 class="ruled">Limits of its checks</h3>
    <div class="limits">
      <section v-for="l in limits" :key="l.check">
        <b>{{ l.title }}</b>
        <p v-if="!l.rows.length" class="soft">no number: it is seen or not</p>
        <p v-for="r in l.rows.filter((r) => r.cells[0])" :key="r.label" class="pair">
          <span class="soft">{{ r.label }}</span><span class="figure">{{ r.cells[0] }}</span>
        </p>
      </section>
    </div>
  </div>
</template>

<style scoped>
.type {
  display: grid;
  gap: 10px;
}

.facts {
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr));
  gap: 20px;
}

.limits {
  columns: 3;
  column-gap: 20px;
}

.limits section {
  break-inside: avoid;
  padding-bottom: 8px;
}

.pair {
  display: flex;
  justify-content: space-between;
  gap: 12px;
}

@media (max-width: 900px) {
  .facts {
    grid-template-columns: minmax(0, 1fr);
  }

  .limits {
    columns: 1;
  }
}
</style>
