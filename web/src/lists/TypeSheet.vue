<script setup lang="ts">
import { computed } from 'vue'

import type { AircraftType } from '@/api/client'

/** The facts of an aircraft type, as its data has them. */
const props = defineProps<{ type: AircraftType }>()
const limits = computed(() =>
  Object.entries(props.type.limits)
    .map(([check, l]) => ({
      check,
      rows: Object.entries(l as Record<string, unknown>).map(([k, v]) => [
        k,
        typeof v === 'object'
          ? Object.entries(v as object)
              .map(([a, b]) => `${a} ${b}`)
              .join(', ')
          : String(v),
      ]),
    }))
    .sort((a, b) => a.check.localeCompare(b.check)),
)
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
        <h3>Speeds</h3>
        <p v-for="s in type.speeds" :key="s.id" class="pair">
          <span>{{ s.label }}</span><b class="figure">{{ s.knots }} kt</b>
        </p>
      </section>
      <section>
        <h3>Times</h3>
        <p v-for="d in type.durations" :key="d.id" class="pair">
          <span>{{ d.label }}</span><b class="figure">{{
            [d.minSeconds && `≥ ${d.minSeconds} s`, d.maxSeconds && `≤ ${d.maxSeconds} s`]
              .filter(Boolean)
              .join(' ')
          }}</b>
        </p>
      </section>
      <section>
        <h3>Equipment</h3>
        <p v-for="e in type.equipment" :key="e.id">
          {{ e.label }}<span v-if="e.optional" class="soft"> (where fitted)</span>
        </p>
      </section>
    </div>
    <h3>Limits of its checks</h3>
    <div class="limits">
      <section v-for="l in limits" :key="l.check">
        <b>{{ l.check }}</b>
        <p v-if="!l.rows.length" class="soft">no number: it is seen or not</p>
        <p v-for="[k, v] in l.rows" :key="k" class="pair">
          <span class="soft">{{ k }}</span><span class="figure">{{ v }}</span>
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

h3 {
  font-weight: 700;
  border-bottom: 1px solid var(--ink);
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
