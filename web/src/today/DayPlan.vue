<script setup lang="ts">
import { computed } from 'vue'

import type { LessonRow, Schemas, Today } from '@/schema/schemas'
import { dayIn, timeWords } from '@/shared/words'

/** The day by aircraft: what is planned, what is flown, what stays on the ground. */
const props = defineProps<{ today: Today; zone: string; mine: string; now: number }>()
const emit = defineEmits<{ choose: [planned: Schemas['Planned']] }>()

type Block = {
  key: string
  registration: string
  name: string
  from: number
  to: number
  state: 'planned' | 'running' | 'ended' | 'signed' | 'missed'
  mine: boolean
  planned?: Schemas['Planned']
  lesson?: LessonRow
}
const minutes = (moment: string | number) => {
  const [h, m] = timeWords(moment, props.zone).split(':').map(Number)
  return h! * 60 + m!
}
const words = { planned: '', running: 'running', ended: 'not signed', signed: 'signed', missed: 'not flown' }
const flown = computed(() =>
  [...props.today.running, ...props.today.recent].filter(
    (l) =>
      dayIn(l.openedAt, props.zone) === props.today.day &&
      !props.today.planned.some((p) => p.lesson === l.id),
  ),
)
const blocks = computed<Block[]>(() => [
  ...props.today.planned.map((p): Block => {
    const [from, to] = [minutes(p.startsAt), minutes(p.endsAt)]
    const over = Date.parse(p.endsAt) < props.now
    const state = ({ open: 'running', ended: 'ended', signed: 'signed' } as const)[p.status as 'open']
    return {
      key: p.id,
      registration: p.registration,
      name: p.student,
      from,
      to: to > from ? to : 24 * 60,
      state: state ?? (over ? 'missed' : 'planned'),
      mine: p.instructorId === props.mine || p.studentId === props.mine,
      planned: p,
    }
  }),
  ...flown.value.map((l): Block => {
    const from = minutes(l.openedAt)
    return {
      key: l.id,
      registration: l.registration,
      name: l.student,
      from,
      to: Math.min(from + 90, 24 * 60),
      state: l.status === 'signed' ? 'signed' : 'running',
      mine: l.instructorId === props.mine || l.studentId === props.mine,
      lesson: l,
    }
  }),
])
/** What overlaps, such as a lesson that began before its time, stands in lanes. */
function lanes(all: Block[]) {
  const ends: number[] = []
  const placed = all.map((b) => {
    let lane = ends.findIndex((end) => end <= b.from)
    if (lane < 0) lane = ends.length
    ends[lane] = b.to
    return { ...b, lane }
  })
  return { blocks: placed, lanes: Math.max(1, ends.length) }
}
const rows = computed(() =>
  props.today.aircraft
    .map((a) => ({
      ...a,
      ...lanes(
        blocks.value.filter((b) => b.registration === a.registration).toSorted((x, y) => x.from - y.from),
      ),
    }))
    .filter((a) => a.blocks.length || a.grounded),
)
const here = computed(() => minutes(props.now))
const first = computed(() => Math.floor(Math.min(8 * 60, ...blocks.value.map((b) => b.from)) / 60))
const last = computed(() => Math.ceil(Math.max(18 * 60, ...blocks.value.map((b) => b.to)) / 60))
const hours = computed(() => {
  const step = last.value - first.value > 12 ? 3 : 2
  return Array.from(
    { length: Math.floor((last.value - first.value) / step) + 1 },
    (_, i) => first.value + i * step,
  )
})
const at = (m: number) => `${(100 * (m / 60 - first.value)) / (last.value - first.value)}%`
const wide = (b: Block) => `${(100 * (b.to - b.from)) / 60 / (last.value - first.value)}%`
const hour = (h: number) => `${String(h).padStart(2, '0')}:00`
const clock = (m: number) =>
  `${String(Math.floor(m / 60) % 24).padStart(2, '0')}:${String(m % 60).padStart(2, '0')}`
const link = (b: Block) => {
  const id = b.lesson?.id ?? b.planned?.lesson
  return id ? (b.state === 'running' ? `/lessons/${id}` : `/lessons/${id}/debrief`) : undefined
}
const said = (b: Block) =>
  `${b.registration}, ${b.name}, ${clock(b.from)} to ${clock(b.to)}${words[b.state] ? `, ${words[b.state]}` : ''}`
</script>

<template>
  <div class="plan" data-part="plan">
    <p v-if="!rows.length" class="soft none">Nothing is planned for today.</p>
    <div v-else class="chart">
      <div class="scale" aria-hidden="true">
        <span v-for="h in hours" :key="h" class="figure" :style="{ left: at(h * 60) }">{{ hour(h) }}</span>
      </div>
      <div v-for="a in rows" :key="a.registration" class="row">
        <b>{{ a.registration }}</b>
        <div class="track" :style="{ '--lanes': a.lanes }">
          <i v-for="h in hours" :key="h" class="line" :style="{ left: at(h * 60) }" />
          <p v-if="a.grounded" class="ground out">■ stays on the ground: {{ a.findings[0]?.words }}</p>
          <component
            :is="link(b) ? 'router-link' : 'button'"
            v-for="b in a.blocks"
            :key="b.key"
            :to="link(b)"
            :class="['block', b.state, { mine: b.mine }]"
            :style="{ '--at': at(b.from), '--wide': wide(b), '--lane': b.lane }"
            :data-planned="b.planned?.id"
            :title="said(b)"
            @click="!link(b) && b.planned && emit('choose', b.planned)"
          >
            <span class="figure clock">{{ clock(b.from) }}</span>
            <span class="who"
              ><b>{{ b.name.split(' ')[0] }}</b
              ><small v-if="words[b.state]">{{ words[b.state] }}</small></span
            >
          </component>
          <i v-if="here >= first * 60 && here <= last * 60" class="now" :style="{ left: at(here) }" />
        </div>
      </div>
    </div>
  </div>
</template>

<style scoped>
.none {
  padding: 12px 0;
}

.scale {
  position: relative;
  height: 24px;
  margin: 8px 24px 0 84px;
}

.scale span {
  position: absolute;
  transform: translateX(-50%);
  font-size: 13px;
  color: var(--soft);
}

.row {
  display: grid;
  grid-template-columns: 84px minmax(0, 1fr);
  padding-right: 24px;
  align-items: center;
}

.track {
  position: relative;
  height: calc(48px * var(--lanes));
  border-bottom: 1px solid var(--fine);
}

.line,
.now {
  position: absolute;
  top: 0;
  bottom: 0;
  border-left: 1px solid var(--fine);
}

.now {
  border-left: 2px solid var(--out);
  pointer-events: none;
}

.ground {
  position: absolute;
  inset: 0;
  display: flex;
  align-items: center;
  font-size: 13px;
  font-weight: 700;
  padding-left: 6px;
  overflow: hidden;
}

.block {
  position: absolute;
  left: var(--at);
  width: var(--wide);
  top: calc(4px + 48px * var(--lane));
  height: 40px;
  min-height: 0;
  display: flex;
  align-items: center;
  gap: 8px;
  padding: 0 8px;
  overflow: hidden;
  white-space: nowrap;
  text-align: left;
  text-decoration: none;
  background: var(--sheet);
  border: 1px solid var(--soft);
  border-radius: 3px;
}

.block.mine {
  border: 2px solid var(--ink);
}

.block.mine.planned {
  background: var(--live);
}

.block.signed {
  background: var(--within-wash);
}

.block.missed {
  border-style: dashed;
  color: var(--soft);
}

.who {
  display: grid;
  line-height: 1.15;
}

small {
  font-size: 12px;
}

.clock {
  display: none;
}

@media (max-width: 700px) {
  .scale,
  .line,
  .now {
    display: none;
  }

  .row {
    grid-template-columns: 76px minmax(0, 1fr);
    padding: 4px 0;
    align-items: start;
    border-bottom: 1px solid var(--fine);
  }

  .row > b {
    padding-top: 14px;
  }

  .track {
    height: auto;
    border: 0;
    display: grid;
    gap: 4px;
  }

  .ground,
  .block {
    position: static;
    width: auto;
    height: auto;
    min-height: 48px;
  }

  .clock {
    display: inline;
  }
}
</style>
