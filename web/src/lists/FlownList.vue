<script setup lang="ts">
import { computed } from 'vue'

import type { Flown, List } from '@/schema/schemas'
import { reasonShape, reasonWords } from '@/shared/words'

/** A list as flown: every line that is not as printed says why. */
const props = defineProps<{ flown: Flown; printed: List; show: 'all' | 'day' | 'layers' }>()

const reasonsOf = computed(() => {
  const out = new Map<string, Flown['reasons']>()
  for (const r of props.flown.reasons) out.set(r.item, [...(out.get(r.item) ?? []), r])
  return out
})
type Line = { id: string; challenge: string; response: string; there: boolean; reasons: Flown['reasons'] }
/** Everything; what differs from the printed list; what a layer has a say in. */
const shows = (l: Line) =>
  props.show === 'all' || (props.show === 'day' ? l.reasons.length > 0 : l.reasons.some((r) => r.layer))
const phases = computed(() => {
  const there = new Set(props.flown.list.phases.flatMap((p) => p.items.map((i) => i.id)))
  const titles = new Map(
    [...props.printed.phases, ...props.flown.list.phases].map((p) => [p.id, p.title] as const),
  )
  const lines = new Map<string, Line[]>()
  for (const id of titles.keys()) {
    const own: Line[] = (props.flown.list.phases.find((p) => p.id === id)?.items ?? []).map((i) => ({
      id: i.id,
      challenge: i.challenge,
      response: i.response,
      there: true,
      reasons: reasonsOf.value.get(i.of ?? i.id) ?? [],
    }))
    for (const i of props.printed.phases.find((p) => p.id === id)?.items ?? []) {
      const reasons = reasonsOf.value.get(i.id)?.filter((r) => r.kind === 'dropped') ?? []
      if (reasons.length && !there.has(i.id))
        own.push({ id: i.id, challenge: i.challenge, response: i.response, there: false, reasons })
    }
    lines.set(id, own)
  }
  return [...titles].map(([id, title]) => ({
    id,
    title,
    lines: lines.get(id)!.filter(shows),
  }))
})
const refused = computed(() => {
  const known = new Set(phases.value.flatMap((p) => p.lines.map((l) => l.id)))
  return props.flown.reasons.filter((r) => r.kind === 'refused' && !known.has(r.item))
})
</script>

<template>
  <div class="flown" data-part="flown">
    <p v-for="r in refused" :key="r.item + r.layer" class="attend">
      × {{ r.title }}: {{ r.challenge || r.item }} — {{ r.because }}
    </p>
    <p v-if="!phases.some((p) => p.lines.length)" class="soft">
      {{ show === 'layers' ? 'No layer changes anything here.' : 'Flown as printed: nothing differs.' }}
    </p>
    <section v-for="p in phases" v-show="p.lines.length" :key="p.id">
      <h4>{{ p.title }}</h4>
      <div v-for="l in p.lines" :key="l.id" :class="['line', { gone: !l.there }]" :data-flown="l.id">
        <span>{{ l.challenge }}</span>
        <span>{{ l.response }}</span>
        <span
          v-for="(r, i) in l.reasons"
          :key="i"
          :class="['reason small', r.kind === 'overruled' || r.kind === 'refused' ? 'attend' : 'soft']"
        >
          <b>{{ reasonShape[r.kind] }} {{ reasonWords[r.kind] }}</b>
          <template v-if="r.title"> by {{ r.title }}</template
          ><template v-if="r.fields?.length"> ({{ r.fields.join(', ') }})</template>
          <template v-if="r.why">: {{ r.why }}</template>
          <template v-if="r.because"> [{{ r.because }}]</template>
        </span>
      </div>
    </section>
  </div>
</template>

<style scoped>
h4 {
  margin: 8px 0 2px;
  font-size: 15px;
  font-weight: 700;
  border-bottom: 1px solid var(--ink);
}

.line {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 0 12px;
  padding: 3px 0;
  border-bottom: 1px solid var(--fine);
  line-height: 1.25;
  content-visibility: auto;
  contain-intrinsic-size: auto 24px;
}

.gone > span:nth-child(-n + 2) {
  text-decoration: line-through;
  color: var(--soft);
}

.reason {
  grid-column: 1 / -1;
  padding-left: 12px;
}
</style>
