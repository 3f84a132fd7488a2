<script setup lang="ts">
import { computed } from 'vue'

import type { Schemas } from '@/schema/schemas'

/** A field as its report has it: runways as they lie, the wind as it blows. */
const props = defineProps<{ field: Schemas['FieldView']; small?: boolean }>()

/** Each strip once: a runway and its other end are one. */
const strips = computed(() =>
  props.field.strips.filter(
    (s, i, all) =>
      !all.slice(0, i).some((o) => Math.abs(((s.headingDeg - o.headingDeg + 540) % 360) - 180) > 170),
  ),
)
const point = (deg: number, r: number) => {
  const a = (deg * Math.PI) / 180
  return { x: 100 + r * Math.sin(a), y: 100 - r * Math.cos(a) }
}
/** The end that one takes off from lies against the heading. */
const inUse = computed(() => props.field.strips.find((s) => s.name === props.field.runway))
const lines = computed(() =>
  [
    [props.field.air, ''],
    [props.field.ice && `carburettor ice: ${props.field.ice}`, 'attend'],
  ].filter(([words]) => words),
)
const more = computed(() =>
  [
    ['altimeter', props.field.setting],
    ['density altitude', props.field.densityAltitude],
    ['sky', props.field.sky],
  ].filter(([, words]) => words),
)
</script>

<template>
  <section class="field" :data-field="field.id">
    <h2>
      <span>{{ field.name }}</span><small class="soft">{{
        field.time ? `${field.time} UTC, practice station` : 'practice station'
      }}</small>
    </h2>
    <div v-if="!small" class="now">
      <svg viewBox="0 0 200 200" role="img" :aria-label="`Runway ${field.runway} in use, wind ${field.wind}`">
        <circle cx="100" cy="100" r="82" class="ring" />
        <line
          v-for="s in strips"
          :key="s.name"
          :x1="point(s.headingDeg, 74).x"
          :y1="point(s.headingDeg, 74).y"
          :x2="point(s.headingDeg + 180, 74).x"
          :y2="point(s.headingDeg + 180, 74).y"
          :class="['strip', { grass: s.grass }]"
        />
        <text
          v-if="inUse"
          :x="point(inUse.headingDeg + 180, 92).x"
          :y="point(inUse.headingDeg + 180, 92).y + 6"
          class="name"
        >
          {{ inUse.name }}
        </text>
        <template v-if="field.fromDeg !== null">
          <line
            :x1="point(field.fromDeg!, 82).x"
            :y1="point(field.fromDeg!, 82).y"
            :x2="point(field.fromDeg!, 40).x"
            :y2="point(field.fromDeg!, 40).y"
            class="wind"
          />
          <circle :cx="point(field.fromDeg!, 82).x" :cy="point(field.fromDeg!, 82).y" r="5" class="from" />
        </template>
      </svg>
      <div>
        <p v-if="field.runway">
          <b class="runway figure">{{ field.runway }}</b> <span class="soft">in use</span>
        </p>
        <p>{{ field.wind }}</p>
        <p v-if="field.along" class="within">
          <b>{{ field.along }}, {{ field.across }}</b>
        </p>
        <p v-if="field.gust" class="soft">{{ field.gust }}</p>
        <p v-for="[words, tone] in lines" :key="words" :class="tone">
          <b>{{ tone ? '▲ ' : '' }}{{ words }}</b>
        </p>
      </div>
    </div>
    <p v-else class="short">
      <b>{{ field.runway }} in use</b>, {{ field.wind }}<br />{{ field.air }}
    </p>
    <dl>
      <template v-for="[label, words] in more" :key="label">
        <dt class="soft">{{ label }}</dt>
        <dd>{{ words }}</dd>
      </template>
    </dl>
  </section>
</template>

<style scoped>
h2 {
  display: flex;
  justify-content: space-between;
  align-items: baseline;
  font-size: 18px;
  font-weight: 700;
  padding: 12px 0 8px;
  border-bottom: 1px solid var(--ink);
}

h2 small {
  font-size: 13px;
  font-weight: 400;
}

.now {
  display: grid;
  grid-template-columns: minmax(0, 170px) minmax(0, 1fr);
  gap: 8px 20px;
  align-items: center;
  padding: 8px 0;
}

.short {
  padding-top: 8px;
}

.runway {
  font-size: 30px;
}

.ring {
  fill: none;
  stroke: var(--hair);
}

.strip {
  stroke: var(--ink);
  stroke-width: 10;
}

.strip.grass {
  stroke: var(--hair);
  stroke-width: 8;
}

.name {
  text-anchor: middle;
  font-weight: 700;
  font-size: 18px;
  fill: var(--ink);
}

.wind {
  stroke: var(--attend);
  stroke-width: 3;
}

.from {
  fill: var(--attend);
}

dl {
  display: grid;
  grid-template-columns: 130px minmax(0, 1fr);
  gap: 4px 12px;
  margin: 8px 0;
}

dd {
  margin: 0;
  font-weight: 700;
}
</style>
