<script setup lang="ts">
import { computed, nextTick, ref } from 'vue'

import AppButton from '@/base/AppButton.vue'
import type { Schemas } from '@/schema/schemas'
import { placeOf, type Moved, type Place, type Planned } from '@/schedule/moving'
import { addDays, clockAt, minutesAt, minutesOf } from '@/schedule/times'
import { dayIn, fullDay } from '@/shared/words'

/**
 * The lines with what is planned on them: a week as days with their lessons in
 * order, one day to scale. A lesson is dragged with a mouse, or picked up with M and
 * moved with the arrow keys.
 */
const props = defineProps<{
  view: Schemas['ScheduleView']
  by: 'aircraft' | 'instructor' | 'student'
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
/** Drawn hours of a day to scale, and the step of a lesson that is moved, in minutes. */
const span = computed(() => {
  const at = props.view.planned.flatMap((p) => [
    minutesAt(p.startsAt, props.zone),
    minutesAt(p.startsAt, props.zone) + minutesOf(p),
  ])
  return {
    from: Math.floor(Math.min(7 * 60, ...at) / 60) * 60,
    to: Math.min(24 * 60, Math.ceil(Math.max(20 * 60, ...at) / 60) * 60),
  }
})
const step = 15
const across = (m: number) => `${(100 * (m - span.value.from)) / (span.value.to - span.value.from)}%`
const hours = computed(() =>
  Array.from({ length: (span.value.to - span.value.from) / 120 + 0.5 }, (_, i) => span.value.from + i * 120),
)

const lineOf = (p: { instructorId?: string; registration: string; studentId?: string }) =>
  ({ aircraft: p.registration, instructor: p.instructorId, student: p.studentId })[props.by]
const free = (p: Planned) => props.moves && !p.lesson && dayIn(p.startsAt, props.zone) >= props.view.today

/** A lesson that is being moved, and where it would be put. */
const held = ref<{ planned: Planned; to: Place } | null>(null)
const heldLine = (h: { planned: Planned; to: Place }) =>
  lineOf({ ...h.planned, instructorId: h.to.instructor, registration: h.to.registration })

type Card = { key: string; planned: Planned; from: number; long: number; look: string; fixed: boolean }
const card = (p: Planned, to: Place, look: string): Card => {
  const [h, m] = to.at.split(':').map(Number)
  return {
    key: look + p.id,
    planned: p,
    from: h! * 60 + m!,
    long: to.minutes,
    look,
    fixed: look !== '' && look !== 'away-from',
  }
}
function cards(line: string, day: string): Card[] {
  const shown = held.value ?? props.ghost
  const out = props.view.planned
    .filter((p) => lineOf(p) === line && dayIn(p.startsAt, props.zone) === day)
    .map((p) => card(p, placeOf(p, props.zone), shown?.planned.id === p.id ? 'away-from' : ''))
  if (shown && heldLine(shown) === line && shown.to.on === day)
    out.push(card(shown.planned, shown.to, held.value ? 'held' : 'refused'))
  return out.toSorted((a, b) => a.from - b.from)
}
const grid = computed(() =>
  props.lines.map((l) => ({ ...l, days: props.view.days.map((day) => ({ day, cards: cards(l.id, day) })) })),
)
/** What is away on a line and day, from and to which minute of it. */
const gone = (line: string, day: string) =>
  props.view.away
    .filter(
      (a) =>
        (a.registration === line || a.personId === line) &&
        dayIn(a.startsAt, props.zone) <= day &&
        dayIn(new Date(Date.parse(a.endsAt) - 1).toISOString(), props.zone) >= day,
    )
    .map((a) => ({
      ...a,
      from: dayIn(a.startsAt, props.zone) < day ? 0 : minutesAt(a.startsAt, props.zone),
      to: dayIn(a.endsAt, props.zone) > day ? 24 * 60 : minutesAt(a.endsAt, props.zone),
    }))
const weekday = (day: string) => ((new Date(`${day}T12:00:00Z`).getUTCDay() + 6) % 7) + 1
const shifts = (line: string, day: string) =>
  props.by === 'instructor'
    ? props.view.shifts[line]?.filter((s) => s.day === weekday(day)).map((s) => `${s.from} to ${s.to}`)
    : undefined

const initials = (name: string) =>
  name
    .split(/\s+/)
    .map((w) => w[0])
    .join('')
const who = (p: Planned) =>
  props.by === 'student' ? `${p.instructor}, ${p.registration}` : p.student.split(' ')[0]
const other = (p: Planned) =>
  ({ aircraft: initials(p.instructor), instructor: p.registration.slice(-3), student: '' })[props.by]
/** The first that stands against a lesson that is planned already. */
const against = (c: Card) => (c.fixed ? undefined : props.view.against[c.planned.id]?.[0])
const words: Record<string, string> = { open: 'running', ended: 'not signed', signed: 'signed' }
const said = (c: Card) =>
  `${clockAt(c.from)} to ${clockAt(c.from + c.long)}, ${[c.planned.student, c.planned.instructor && `with ${c.planned.instructor}`, c.planned.registration, c.planned.plan, ...c.planned.for, words[c.planned.status], against(c)?.words].filter(Boolean).join(', ')}`
const dayShort = (day: string) => fullDay(day).replace(/ [A-Z][a-z]{2} \d{4}$/, '')

/* A mouse. */
let grabbed: { planned: Planned; x: number; y: number; offset: number; stretch: boolean } | null = null
let dragged = false
function grab(e: PointerEvent, c: Card, stretch = false) {
  if (e.pointerType !== 'mouse' || e.button !== 0 || c.fixed || !free(c.planned)) return
  dragged = false
  const track = (e.currentTarget as HTMLElement).closest<HTMLElement>('[data-cell]')!
  grabbed = {
    planned: c.planned,
    x: e.clientX,
    y: e.clientY,
    offset: minuteAt(track, e.clientX) - c.from,
    stretch,
  }
  addEventListener('pointermove', drag)
  addEventListener('pointerup', drop, { once: true })
}
function minuteAt(track: HTMLElement, x: number) {
  const box = track.getBoundingClientRect()
  return span.value.from + ((span.value.to - span.value.from) * (x - box.left)) / box.width
}
const snapped = (m: number) => Math.round(m / step) * step
const within = (m: number, long: number) =>
  Math.min(Math.max(m, 0), 24 * 60 - Math.min(long, 24 * 60 - 1) - 1)
function put(planned: Planned, to: Place, line: string): Place {
  if (props.by === 'aircraft') return { ...to, registration: line }
  if (props.by === 'instructor') return { ...to, instructor: line }
  return to
}
function drag(e: PointerEvent) {
  if (!grabbed) return
  if (!dragged && Math.hypot(e.clientX - grabbed.x, e.clientY - grabbed.y) < 6) return
  dragged = true
  const cell = document.elementFromPoint(e.clientX, e.clientY)?.closest<HTMLElement>('[data-cell]')
  if (!cell) return
  const was = placeOf(grabbed.planned, props.zone)
  const [line, day] = [cell.dataset.line!, cell.dataset.day!]
  let to = grabbed.stretch ? was : { ...put(grabbed.planned, was, line), on: day }
  if (one.value && grabbed.stretch) {
    const start = minutesAt(grabbed.planned.startsAt, props.zone)
    to = { ...to, minutes: Math.min(Math.max(snapped(minuteAt(cell, e.clientX) - start), 15), 480) }
  } else if (one.value) {
    to = { ...to, at: clockAt(within(snapped(minuteAt(cell, e.clientX) - grabbed.offset), 0)) }
  }
  held.value = { planned: grabbed.planned, to }
}
function drop() {
  removeEventListener('pointermove', drag)
  grabbed = null
  if (held.value) letGo()
  else dragged = false
}
function letGo() {
  const { planned, to } = held.value!
  held.value = null
  const was = placeOf(planned, props.zone)
  if (Object.entries(to).some(([k, v]) => was[k as keyof Place] !== v)) emit('move', planned, to)
}
function click(c: Card) {
  if (dragged) dragged = false
  else if (!c.fixed && c.planned.studentId) emit('choose', c.planned)
}

/* A keyboard. */
const spoken = ref('')
async function key(e: KeyboardEvent, c: Card) {
  if (!held.value) {
    if (e.key.toLowerCase() !== 'm' || c.fixed || !free(c.planned)) return
    e.preventDefault()
    held.value = { planned: c.planned, to: placeOf(c.planned, props.zone) }
  } else {
    const to = { ...held.value.to }
    const start = Number(to.at.slice(0, 2)) * 60 + Number(to.at.slice(3))
    const way = { ArrowLeft: -1, ArrowRight: 1 }[e.key]
    const line = props.lines.findIndex((l) => l.id === heldLine(held.value!))
    const next = props.lines[line + ({ ArrowUp: -1, ArrowDown: 1 }[e.key] ?? 0)]?.id
    if (e.key === 'Enter') {
      e.preventDefault()
      return letGo()
    }
    if (e.key === 'Escape') held.value = null
    else if (way && one.value && e.shiftKey) to.minutes = Math.min(Math.max(to.minutes + way * step, 15), 480)
    else if (way && (one.value || e.shiftKey)) to.at = clockAt(within(start + way * step, 0))
    else if (way) to.on = props.view.days.includes(addDays(to.on, way)) ? addDays(to.on, way) : to.on
    else if (next && e.key.startsWith('Arrow')) Object.assign(to, put(held.value.planned, to, next))
    else return
    e.preventDefault()
    if (held.value) held.value = { planned: held.value.planned, to }
  }
  const h = held.value
  spoken.value = h
    ? `${h.planned.student}: ${fullDay(h.to.on)}, ${h.to.at}, ${h.to.minutes} minutes, ${props.lines.find((l) => l.id === heldLine(h))?.name ?? ''}. Enter puts it there, Escape leaves it.`
    : 'Left where it was.'
  await nextTick()
  document.querySelector<HTMLElement>(`[data-planned='${c.planned.id}']`)?.focus()
}

function plan(e: MouseEvent, line: string, day: string) {
  if ((e.target as HTMLElement).closest('button')) return
  const at = one.value ? clockAt(snapped(minuteAt(e.currentTarget as HTMLElement, e.clientX))) : undefined
  emit('plan', {
    on: day,
    at,
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
          v-for="a in gone(l.id, d.day)"
          :key="a.id"
          class="gone small"
          :style="
            one
              ? {
                  left: across(Math.max(a.from, span.from)),
                  width: `calc(${across(Math.min(a.to, span.to))} - ${across(Math.max(a.from, span.from))})`,
                }
              : {}
          "
        >
          <span>{{ a.why }}</span>
        </p>
        <span v-for="s in shifts(l.id, d.day)" :key="s" class="shift small soft figure">{{ s }}</span>
        <AppButton
          v-for="c in d.cards"
          :key="c.key"
          :class="[
            'card',
            c.look,
            c.planned.status,
            { mine: c.planned.instructorId === mine, free: free(c.planned) },
          ]"
          :style="
            one ? { left: across(c.from), width: `calc(${across(c.from + c.long)} - ${across(c.from)})` } : {}
          "
          :data-planned="c.look === 'refused' || c.look === 'held' ? undefined : c.planned.id"
          :data-ghost="c.look === 'refused' || c.look === 'held' ? c.planned.id : undefined"
          :aria-hidden="c.look === 'held' || undefined"
          :tabindex="c.look === 'held' ? -1 : undefined"
          :title="said(c)"
          @pointerdown="grab($event, c)"
          @click="click(c)"
          @keydown="key($event, c)"
        >
          <span class="figure">{{ clockAt(c.from) }}</span> <b>{{ who(c.planned) }}</b>
          <span class="soft">{{ other(c.planned) }}</span>
          <b v-if="against(c)" :class="against(c)!.refused ? 'out' : 'attend'">{{
            against(c)!.refused ? '■' : '▲'
          }}</b>
          <i
            v-if="c.planned.plan || c.planned.for.length"
            class="prepared"
            title="with a plan or exercises"
          />
          <i
            v-if="one && free(c.planned) && !c.fixed"
            class="edge"
            aria-hidden="true"
            @pointerdown.stop="grab($event, c, true)"
          />
        </AppButton>
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

.card {
  position: relative;
  display: flex;
  flex-wrap: wrap;
  gap: 0 5px;
  align-items: baseline;
  min-height: 30px;
  padding: 3px 6px;
  font-size: 13px;
  line-height: 1.25;
  text-align: left;
  background: var(--sheet);
  border: 1px solid var(--soft);
  overflow: hidden;
  user-select: none;
}

.card.free {
  cursor: grab;
}

.card.mine {
  border: 2px solid var(--ink);
  padding: 2px 5px;
}

.card.signed {
  background: var(--within-wash);
}

.card.open,
.card.ended {
  border-color: var(--attend);
}

.card.held,
.card.refused {
  border: 2px dashed var(--ink);
  background: var(--live);
  padding: 2px 5px;
}

.card.held {
  pointer-events: none;
}

.card.away-from {
  opacity: 0.55;
  border-style: dashed;
}

.card.refused {
  border-color: var(--out);
}

.prepared {
  width: 6px;
  height: 6px;
  background: var(--within);
  align-self: center;
  margin-left: auto;
}

.scaled {
  height: 60px;
}

.scaled .card {
  position: absolute;
  top: 6px;
  height: 48px;
  align-content: center;
}

.edge {
  position: absolute;
  right: 0;
  top: 0;
  bottom: 0;
  width: 10px;
  cursor: ew-resize;
  border-right: 3px double var(--soft);
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

  .card,
  .scaled .card {
    position: static;
    width: auto !important;
    height: auto;
    min-height: 48px;
    align-items: center;
  }

  .scaled .gone {
    position: static;
    width: auto !important;
  }

  .tick,
  .edge,
  .hint {
    display: none;
  }
}

@media print {
  .hint {
    display: none;
  }

  .card {
    display: flex !important;
  }
}
</style>
