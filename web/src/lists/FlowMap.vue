<script setup lang="ts">
import { computed, ref, watch } from 'vue'

import AppButton from '@/base/AppButton.vue'
import type { AircraftType, Item } from '@/schema/schemas'

/**
 * The order of places in which a phase is worked, on the type's own schematic.
 * In learning the student touches the next place from memory.
 */
const props = defineProps<{ type: AircraftType; items: Item[]; title: string }>()

type Stop = { place: string; items: Item[] }
const stops = computed<Stop[]>(() => {
  const out: Stop[] = []
  for (const item of props.items) {
    if (!item.place) continue
    const last = out.at(-1)
    if (last?.place === item.place) last.items.push(item)
    else out.push({ place: item.place, items: [item] })
  }
  return out
})
const places = computed(() =>
  (props.type.cockpit ?? []).map((p) => ({
    ...p,
    x: 30 + p.x * 5.2,
    y: 16 + p.y * 3.5,
    numbers: stops.value.flatMap((s, i) => (s.place === p.id ? [i + 1] : [])),
  })),
)
const at = (id: string) => places.value.find((p) => p.id === id)

const learning = ref(false)
const reached = ref(0)
const missed = ref<number[]>([])
const wrongPlace = ref('')
watch([() => props.items, () => props.type], () => (learning.value = false))

function learn() {
  learning.value = true
  reached.value = 0
  missed.value = []
  wrongPlace.value = ''
}

function touch(place: string) {
  if (!learning.value || reached.value >= stops.value.length) return
  if (stops.value[reached.value]!.place === place) {
    reached.value++
    wrongPlace.value = ''
  } else {
    wrongPlace.value = place
    if (!missed.value.includes(reached.value)) missed.value = [...missed.value, reached.value]
  }
}

const drawn = computed(() => (learning.value ? stops.value.slice(0, reached.value) : stops.value))
const legs = computed(() =>
  drawn.value.slice(1).flatMap((s, i) => {
    const from = at(drawn.value[i]!.place)
    const to = at(s.place)
    if (!from || !to) return []
    // Each leg bends to one side, so that there and back do not cover each other.
    const [dx, dy] = [to.x - from.x, to.y - from.y]
    const bend = 0.16
    const mid = { x: (from.x + to.x) / 2 - dy * bend, y: (from.y + to.y) / 2 + dx * bend }
    return [
      {
        key: i,
        d: `M${from.x} ${from.y} Q${mid.x} ${mid.y} ${to.x} ${to.y}`,
        number: { x: (mid.x * 2 + from.x + to.x) / 4, y: (mid.y * 2 + from.y + to.y) / 4 },
      },
    ]
  }),
)
const words = computed(() => {
  if (!learning.value) return `${stops.value.length} stops, ${props.items.length} items`
  if (reached.value >= stops.value.length)
    return missed.value.length
      ? `Done: ${stops.value.length - missed.value.length} of ${stops.value.length} stops right at the first touch.`
      : `Done: all ${stops.value.length} stops right at the first touch.`
  const label = at(wrongPlace.value)?.label
  return label ? `Not ${label}. Try again: stop ${reached.value + 1}.` : `Touch stop ${reached.value + 1}.`
})
const here = computed(() =>
  learning.value ? stops.value[reached.value - 1] : stops.value[Number(shown.value) - 1],
)
const shown = ref('1')
</script>

<template>
  <figure v-if="stops.length" class="map">
    <figcaption>
      <b>Flow: {{ title }}</b> <span class="soft" role="status" data-part="flow-words">{{ words }}</span>
      <AppButton class="quiet" data-action="learn" @click="learning ? (learning = false) : learn()">
        {{ learning ? 'Show the flow' : 'Learn it' }}
      </AppButton>
    </figcaption>
    <svg viewBox="0 0 580 380" role="group" :aria-label="`Places of the ${type.name}`">
      <defs>
        <marker id="arrow" viewBox="0 0 8 8" refX="7" refY="4" markerWidth="6" markerHeight="6" orient="auto">
          <path d="M0 0 L8 4 L0 8 Z" class="tip" />
        </marker>
      </defs>
      <path
        d="M290 30 C420 30 560 60 570 150 V330 Q570 366 534 366 H46 Q10 366 10 330 V150 C20 60 160 30 290 30 Z"
        class="hull"
      />
      <path v-for="l in legs" :key="l.key" :d="l.d" class="leg" marker-end="url(#arrow)" />
      <g
        v-for="p in places"
        :key="p.id"
        :class="['spot', { idle: !p.numbers.length, wrong: learning && wrongPlace === p.id }]"
        :transform="`translate(${p.x} ${p.y})`"
        :data-place="p.id"
        :tabindex="learning ? 0 : undefined"
        role="button"
        @click="touch(p.id)"
        @keydown.enter.prevent="touch(p.id)"
        @keydown.space.prevent="touch(p.id)"
      >
        <circle r="9" />
        <text y="-13">{{ p.label }}</text>
        <text v-if="!learning && p.numbers.length" x="13" y="5" class="numbers">
          {{ p.numbers.join(' ') }}
        </text>
      </g>
    </svg>
    <p v-if="here" class="soft small">
      {{ here.items.map((i) => `${i.challenge}: ${i.response}`).join(' · ') }}
    </p>
    <div v-if="!learning" class="stops">
      <AppButton
        v-for="(s, i) in stops"
        :key="i"
        :class="['quiet', { on: shown === String(i + 1) }]"
        :title="at(s.place)?.label"
        @click="shown = String(i + 1)"
      >
        {{ i + 1 }}
      </AppButton>
    </div>
  </figure>
  <p v-else class="soft">No item of this phase has a place in the cockpit yet.</p>
</template>

<style scoped>
.map {
  margin: 0;
}

figcaption {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 14px;
  align-items: baseline;
}

figcaption button {
  margin-left: auto;
  text-decoration: underline;
}

svg {
  width: 100%;
  display: block;
}

.hull {
  fill: var(--sheet);
  stroke: var(--hair);
}

.leg {
  fill: none;
  stroke: var(--ink);
  stroke-width: 1.2;
}

.tip {
  fill: var(--ink);
}

.spot circle {
  fill: var(--paper);
  stroke: var(--ink);
  stroke-width: 1.5;
}

.spot.idle circle {
  stroke: var(--hair);
}

.spot.wrong circle {
  stroke: var(--out);
  stroke-width: 4;
}

.spot text {
  font: 10.5px var(--sans);
  fill: var(--ink);
  text-anchor: middle;
  paint-order: stroke;
  stroke: var(--sheet);
  stroke-width: 3px;
}

.spot.idle text {
  fill: var(--soft);
}

.spot .numbers {
  text-anchor: start;
  font: 700 11px var(--figures);
}

.spot[tabindex] {
  cursor: pointer;
}

.stops {
  display: flex;
  flex-wrap: wrap;
}

.stops button {
  min-height: 32px;
  padding: 2px 7px;
  font: 13px var(--figures);
}

.stops .on {
  background: var(--live);
  font-weight: 700;
}
</style>
