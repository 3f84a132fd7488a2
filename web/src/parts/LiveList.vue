<script setup lang="ts">
import { computed, nextTick, ref, watch } from 'vue'

import type { Aid, LessonView } from '../api/client'
import type { Place } from '../stores/lesson'
import { reasonShape, reasonWords } from './day'
import { markTone, markWords } from '../words'

/** The list moves under the live item, which stays where it is. */
const props = defineProps<{
  places: Place[]
  index: number
  before: number
  reasons: NonNullable<LessonView['book']['reasons']>
  /** The memory aid of the phase, and the response aloud, for the method of two people. */
  aid?: Aid
  aloud: boolean
}>()
const emit = defineEmits<{ open: [item: string] }>()
const now = computed(() => props.places[props.index])
const above = ref<HTMLElement>()
const below = ref<HTMLElement>()

watch(
  () => props.index,
  async () => {
    await nextTick()
    if (above.value) above.value.scrollTop = above.value.scrollHeight
    if (below.value) below.value.scrollTop = 0
  },
  { immediate: true },
)
/** Rows of places; those worked side by side make one row. */
const rowsOf = (places: Place[]) => {
  const out: Place[][] = []
  for (const p of places) {
    if (out.at(-1)?.[0]!.mates === p.mates) out.at(-1)!.push(p)
    else out.push([p])
  }
  return out
}
const earlier = computed(() =>
  rowsOf(props.places.slice(0, props.index).filter((p) => p.mates !== now.value?.mates)),
)
const later = computed(() =>
  rowsOf(props.places.slice(props.index + 1).filter((p) => p.mates !== now.value?.mates)),
)
/** Of engines side by side the first that is not marked yet. */
const toOpen = (mates: Place[]) => (mates.find((m) => !m.state.status) ?? mates[0]!).item.id
const why = computed(() =>
  props.reasons.filter(
    (r) =>
      r.item === (now.value?.item.of || now.value?.item.id) &&
      ['added', 'changed', 'included'].includes(r.kind),
  ),
)
const kind = (p: Place) =>
  [p.item.check ? 'measured' : '', p.item.critical ? 'critical' : ''].filter(Boolean).join(', ') || 'item'
const ordinal = (n: number) => ['first', 'second', 'third', 'fourth', 'fifth'][n] ?? `${n + 1}th`
</script>

<template>
  <section v-if="now" class="list" aria-label="Checklist">
    <div ref="above" class="above">
      <div v-for="mates in earlier" :key="mates[0]!.item.id" :class="['line', { wide: mates.length > 1 }]">
        <button class="row" :data-row="mates[0]!.item.id" @click="emit('open', toOpen(mates))">
          <span class="mono soft">{{ mates[0]!.number }}</span>
          <span>{{ mates.length > 1 ? mates[0]!.challenge : mates[0]!.item.challenge }}</span>
          <span
            >{{ mates[0]!.item.response }}
            <b v-if="mates.length < 2" :class="markTone(mates[0]!.state.mark)">{{
              markWords[mates[0]!.state.mark] ?? ''
            }}</b></span
          >
        </button>
        <template v-if="mates.length > 1">
          <button
            v-for="m in mates"
            :key="m.item.id"
            class="engine"
            :data-row="m.item.id"
            @click="emit('open', m.item.id)"
          >
            {{ m.engine }}<b :class="markTone(m.state.mark)">{{ markWords[m.state.mark] ?? '·' }}</b>
          </button>
        </template>
      </div>
    </div>
    <div class="live" aria-live="polite">
      <p class="small soft head">
        <span class="mono">{{ now.number }}&ensp;{{ kind(now) }}</span>
        <span v-if="aid" :title="aid.title"
          ><span
            v-for="l in aid.letters"
            :key="l.letter + l.word"
            :class="['letter mono', { here: l.items?.includes(now.item.of || now.item.id) }]"
            >{{ l.letter }}</span
          ></span
        >
        <span v-else>{{ ordinal(before) }} lesson for this student</span>
      </p>
      <h2>{{ now.mates.length > 1 ? now.challenge : now.item.challenge }}</h2>
      <div v-if="now.mates.length > 1" class="engines" role="group" aria-label="Engines side by side">
        <button
          v-for="m in now.mates"
          :key="m.item.id"
          :class="{ chosen: m === now }"
          :aria-pressed="m === now"
          :data-engine="m.item.engine"
          @click="emit('open', m.item.id)"
        >
          {{ m.engine }}
          <b :class="m === now ? '' : markTone(m.state.mark)">{{ markWords[m.state.mark] ?? '' }}</b>
        </button>
      </div>
      <p class="response">
        <span v-if="aloud" class="soft small">student answers: </span>{{ now.item.response }}
        <b v-if="now.state.mark" :class="markTone(now.state.mark)">{{ markWords[now.state.mark] }}</b>
      </p>
      <p v-if="now.item.caution" class="attend caution">▲ {{ now.item.caution }}</p>
      <p class="soft why">{{ now.item.why }}</p>
      <p v-for="(r, i) in why" :key="i" class="small reason" data-part="reason">
        <b>{{ reasonShape[r.kind] }} {{ reasonWords[r.kind] }}</b>
        <template v-if="r.title"> by {{ r.title }}</template>
        <template v-if="r.why">: {{ r.why }}</template>
        <template v-if="r.because"> [{{ r.because }}]</template>
      </p>
    </div>
    <div ref="below" class="below">
      <div v-for="mates in later" :key="mates[0]!.item.id" :class="['line', { wide: mates.length > 1 }]">
        <button class="row" :data-row="mates[0]!.item.id" @click="emit('open', toOpen(mates))">
          <span class="mono soft">{{ mates[0]!.number }}</span>
          <span>{{ mates.length > 1 ? mates[0]!.challenge : mates[0]!.item.challenge }}</span>
          <span class="soft"
            >{{ mates[0]!.item.response }}
            <b v-if="mates.length < 2" :class="markTone(mates[0]!.state.mark)">{{
              markWords[mates[0]!.state.mark] ?? ''
            }}</b></span
          >
        </button>
        <template v-if="mates.length > 1">
          <button
            v-for="m in mates"
            :key="m.item.id"
            class="engine"
            :data-row="m.item.id"
            @click="emit('open', m.item.id)"
          >
            {{ m.engine }}<b :class="markTone(m.state.mark)">{{ markWords[m.state.mark] ?? '·' }}</b>
          </button>
        </template>
      </div>
    </div>
  </section>
</template>

<style scoped>
.list {
  display: grid;
  grid-template-rows: 136px minmax(224px, auto) minmax(0, 1fr);
  min-height: 0;
}

.above,
.below {
  overflow: hidden auto;
  scrollbar-width: none;
  min-height: 0;
}

.above {
  display: flex;
  flex-direction: column;
}

.above > :first-child {
  margin-top: auto;
}

.row {
  flex: none;
  display: grid;
  grid-template-columns: 56px minmax(0, 1fr) minmax(0, 1fr);
  gap: 8px;
  align-items: center;
  width: 100%;
  min-height: 45px;
  padding: 2px 24px;
  border: 0;
  border-radius: 0;
  background: none;
  text-align: left;
  line-height: 1.2;
}

.live {
  background: var(--live);
  border-block: 2px solid var(--ink);
  padding: 10px 24px;
  overflow: hidden;
}

.line {
  flex: none;
  display: flex;
  align-items: center;
}

.wide {
  padding-right: 24px;
}

.line .row {
  flex: 1 1 0;
}

.engine {
  display: grid;
  min-height: 40px;
  width: 74px;
  padding: 0 4px;
  margin-left: 6px;
  border-color: var(--hair);
  font-size: 12px;
  line-height: 1.2;
}

.engines {
  display: grid;
  grid-auto-flow: column;
  grid-auto-columns: minmax(0, 1fr);
  gap: 8px;
  margin: 4px 0;
}

.engines button {
  min-height: 44px;
  padding: 2px 10px;
}

.letter {
  padding: 0 4px;
}

.letter.here {
  font-weight: 700;
  color: var(--ink);
  border-bottom: 2px solid var(--ink);
}

.reason {
  line-height: 1.25;
  border-left: 3px solid var(--hair);
  padding-left: 8px;
  margin-top: 3px;
}

.head {
  display: flex;
  justify-content: space-between;
}

h2 {
  font-size: 26px;
  font-weight: 700;
  line-height: 1.25;
}

.response {
  font-size: 19px;
  line-height: 1.3;
}

.caution {
  font-size: 15px;
  font-weight: 700;
}

.why {
  margin-top: 4px;
  line-height: 1.3;
}

@media (max-width: 800px) {
  .list {
    grid-template-rows: 46px minmax(150px, auto) 91px;
  }

  .row {
    padding: 2px 12px;
  }

  .live {
    padding: 8px 12px;
  }
}

@media (max-width: 560px) {
  .list {
    grid-template-rows: 0 auto 46px;
  }

  h2 {
    font-size: 22px;
  }
}
</style>
