<script setup lang="ts">
import { computed } from 'vue'

import type { Schemas } from '@/schema/schemas'
import { useCarrying } from '@/schedule/carrying'
import { awayOn, cardsOf, shiftsOn, snapped, spanOf, type By, type Card } from '@/schedule/layout'
import type { Moved, Place, Planned } from '@/schedule/moving'
import ScheduleCard from '@/schedule/ScheduleCard.vue'
import { clockAt } from '@/schedule/times'
import { fullDay } from '@/shared/words'

/**
 * The lines with what is planned on them: a week as days with their lessons in
 * order, one day to scale. A lesson is dragged with a mouse, or picked up with M and
 * moved with the arrow keys.
 */
const props = defineProps<{
  view: Schemas['ScheduleView']
  by: By
  lines: Schemas['ScheduleLine'][]
  zone: string
  mine: string
  moves: boolean
  ghost: Moved | null
}>()
const emit = defineEmits<{
  choose: [planned: Planned]
  move: [planned: Planned, to: Place]
  plan: [at: Partial<Place & { student: string }>]
}>()

const one = computed(() => props.view.days.length === 1)
const span = computed(() => spanOf(props.view.planned, props.zone))
const across = (m: number) => `${(100 * (m - span.value.from)) / (span.value.to - span.value.from)}%`
const wide = (from: number, to: number) => `calc(${across(to)} - ${across(from)})`
const hours = computed(() =>
  Array.from({ length: (span.value.to - span.value.from) / 120 + 0.5 }, (_, i) => span.value.from + i * 120),
)
const dayShort = (day: string) => fullDay(day).replace(/ [A-Z][a-z]{2} \d{4}$/, '')

const carrying = useCarrying(props, span, (planned, to) => emit('move', planned, to))
const { held, spoken, free, grab, key } = carrying
const grid = computed(() => {
  const { view, by, zone } = props
  const shown = held.value
    ? { ...held.value, look: 'held' as const }
    : props.ghost
      ? { ...props.ghost, look: 'refused' as const }
      : undefined
  return props.lines.map((l) => ({
    ...l,
    days: view.days.map((day) => ({
      day,
      cards: cardsOf(view, by, zone, l.id, day, shown),
      shifts: by === 'instructor' ? shiftsOn(view, l.id, day) : undefined,
    })),
  }))
})

function click(c: Card) {
  if (carrying.clicks() && !c.fixed && c.planned.studentId) emit('choose', c.planned)
}
function plan(e: MouseEvent, line: string, day: string) {
  if ((e.target as HTMLElement).closest('button')) return
  const minute = () => carrying.minuteAt(e.currentTarget as HTMLElement, e.clientX)
  emit('plan', {
    on: day,
    at: one.value ? clockAt(snapped(minute())) : undefined,
    registration: props.by === 'aircraft' ? line : undefined,
    instructor: props.by === 'instructor' ? line : undefined,
    student: props.by === 'student' ? line : undefined,
  })
}
</script>

<template>
  <div class="grid" :style="{ '--days': view.days.length }" data-part="grid">
    <p class="sr" aria-live="assertive">{{ spoken }}</p>
    <p v-if="held" class="keys soft small" aria-hidden="true">{{ spoken }}</p>
    <p v-if="!grid.length" class="soft none">There is nobody and nothing to plan with yet.</p>
    <div v-else class="heads">
      <span />
      <template v-if="!one">
        <b v-for="day in view.days" :key="day" :class="{ today: day === view.today }">{{ dayShort(day) }}</b>
      </template>
      <div v-else class="scale" aria-hidden="true">
        <span v-for="h in hours" :key="h" class="figure small soft" :style="{ left: across(h) }">{{
          clockAt(h)
        }}</span>
      </div>
    </div>
    <div v-for="l in grid" :key="l.id" class="line" :data-line-of="l.id">
      <div class="name">
        <b>{{ l.name }}</b>
        <span class="small soft">{{ l.note }}</span>
        <span v-if="l.grounded" class="small out" :title="l.grounded">■ on the ground</span>
      </div>
      <div
        v-for="d in l.days"
        :key="d.day"
        :class="['cell', { scaled: one, today: d.day === view.today && !one, bare: !d.cards.length }]"
        data-cell
        :data-line="l.id"
        :data-day="d.day"
        @dblclick="plan($event, l.id, d.day)"
      >
        <b class="narrow-day small">{{ fullDay(d.day) }}</b>
        <template v-if="one"
          ><i v-for="h in hours" :key="h" class="tick" :style="{ left: across(h) }"
        /></template>
        <p
          v-for="a in awayOn(view, zone, l.id, d.day)"
          :key="a.id"
          class="gone small"
          :style="
            one
              ? {
                  left: across(Math.max(a.from, span.from)),
                  width: wide(Math.max(a.from, span.from), Math.min(a.to, span.to)),
                }
              : {}
          "
        >
          <span>{{ a.why }}</span>
        </p>
        <span v-for="s in d.shifts" :key="s" class="shift small soft figure">{{ s }}</span>
        <ScheduleCard
          v-for="c in d.cards"
          :key="c.key"
          :card="c"
          :by="by"
          :mine="c.planned.instructorId === mine"
          :free="free(c.planned)"
          :scaled="one"
          :against="c.fixed ? undefined : view.against[c.planned.id]?.[0]"
          :style="one ? { left: across(c.from), width: wide(c.from, c.from + c.long) } : {}"
          @pointerdown="grab($event, c)"
          @stretch="grab($event, c, true)"
          @click="click(c)"
          @keydown="key($event, c)"
        />
      </div>
    </div>
    <p v-if="moves" class="soft small hint">
      Drag a lesson with the mouse, its end to stretch it{{ one ? '' : ' on a day' }}; or press M on it, then
      the arrow keys{{ one ? ', with Shift to stretch' : ', with Shift for the time' }}, then Enter. A double
      click on a free place plans one there. ▪ has a plan or exercises.
    </p>
  </div>
</template>

<style scoped>
.grid {
  padding: 12px 16px 24px 24px;
  min-width: 0;
}

.sr {
  position: absolute;
  width: 1px;
  height: 1px;
  overflow: hidden;
  clip-path: inset(50%);
}

.keys {
  position: sticky;
  top: 0;
  z-index: 4;
  background: var(--live);
  padding: 4px 8px;
}

.none {
  padding: 24px 0;
}

.heads,
.line {
  display: grid;
  grid-template-columns: 112px repeat(var(--days), minmax(0, 1fr));
}

.heads b {
  font-weight: 400;
  color: var(--soft);
  padding: 4px 6px;
}

.heads b.today {
  font-weight: 700;
  color: var(--ink);
  background: var(--live);
}

.scale {
  position: relative;
  height: 24px;
}

.scale span {
  position: absolute;
  transform: translateX(-50%);
}

.line {
  border-bottom: 1px solid var(--fine);
  min-height: 56px;
}

.name {
  display: grid;
  align-content: start;
  line-height: 1.25;
  padding: 6px 8px 6px 0;
  overflow-wrap: anywhere;
}

.cell {
  position: relative;
  border-left: 1px solid var(--fine);
  padding: 3px;
  display: grid;
  gap: 3px;
  align-content: start;
  min-width: 0;
}

.cell.today {
  background: var(--live);
}

.narrow-day {
  display: none;
}

.tick {
  position: absolute;
  top: 0;
  bottom: 0;
  border-left: 1px solid var(--fine);
}

.scaled {
  height: 60px;
}

.gone {
  background: repeating-linear-gradient(105deg, transparent 0 8px, var(--hair) 8px 9px);
  line-height: 1.2;
}

.gone span {
  background: var(--paper);
  padding: 0 4px;
}

.scaled .gone {
  position: absolute;
  top: 0;
  bottom: 0;
  display: grid;
  place-items: center;
  overflow: hidden;
}

.scaled .shift {
  position: absolute;
  right: 4px;
  bottom: 0;
}

.hint {
  padding-top: 10px;
}

@media (max-width: 1000px) {
  .grid {
    padding: 12px;
  }
}

/* On a narrow screen the days stand below one another, those without anything left out. */
@media (max-width: 640px) {
  .heads {
    display: none;
  }

  .line {
    grid-template-columns: minmax(0, 1fr);
    padding: 6px 0;
  }

  .name {
    grid-auto-flow: column;
    justify-content: start;
    gap: 10px;
    align-items: baseline;
  }

  .cell,
  .cell.scaled {
    border: 0;
    height: auto;
  }

  .cell.bare:not(:has(.gone)) {
    display: none;
  }

  .narrow-day {
    display: block;
    font-weight: 400;
  }

  .scaled .gone {
    position: static;
    width: auto !important;
  }

  .tick,
  .hint {
    display: none;
  }
}

@media print {
  .hint {
    display: none;
  }
}
</style>
