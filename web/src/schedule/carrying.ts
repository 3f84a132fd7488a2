import { useEventListener } from '@vueuse/core'
import { nextTick, ref, type Ref } from 'vue'

import type { Schemas } from '@/schema/schemas'
import {
  lengthOf,
  lineOfHeld,
  snapped,
  stepped,
  timeOf,
  type By,
  type Card,
  type Held,
  type Schedule,
} from '@/schedule/layout'
import { placeOf, type Place, type Planned } from '@/schedule/moving'
import { addDays, minutesAt } from '@/schedule/times'
import { dayIn, fullDay } from '@/shared/words'

/** The grid that lessons are carried over. */
type Grid = {
  view: Schedule
  by: By
  zone: string
  moves: boolean
  lines: Schemas['ScheduleLine'][]
}

/** So far a mouse moves before it drags, in pixels. */
const DRAGS = 6

/** Lessons dragged with a mouse, or picked up with M and moved with the arrow keys. */
export function useCarrying(
  grid: Grid,
  span: Ref<{ from: number; to: number }>,
  moved: (planned: Planned, to: Place) => void,
) {
  /** What is being moved, and where it would be put. */
  const held = ref<Held | null>(null)
  const one = () => grid.view.days.length === 1
  const free = (p: Planned) => grid.moves && !p.lesson && dayIn(p.startsAt, grid.zone) >= grid.view.today

  function letGo() {
    const { planned, to } = held.value!
    held.value = null
    const was = placeOf(planned, grid.zone)
    if (Object.entries(to).some(([k, v]) => was[k as keyof Place] !== v)) moved(planned, to)
  }
  /** A place on another line. */
  const onLine = (to: Place, line: string): Place =>
    ({ aircraft: { ...to, registration: line }, instructor: { ...to, instructor: line }, student: to })[
      grid.by
    ]

  /* A mouse. */
  let grabbed: { planned: Planned; x: number; y: number; offset: number; stretch: boolean } | null = null
  let dragged = false
  /** The minute of the day at a place across a cell. */
  function minuteAt(cell: HTMLElement, x: number) {
    const box = cell.getBoundingClientRect()
    return span.value.from + ((span.value.to - span.value.from) * (x - box.left)) / box.width
  }
  function grab(e: PointerEvent, c: Card, stretch = false) {
    if (e.pointerType !== 'mouse' || e.button !== 0 || c.fixed || !free(c.planned)) return
    dragged = false
    const cell = (e.currentTarget as HTMLElement).closest<HTMLElement>('[data-cell]')!
    const offset = minuteAt(cell, e.clientX) - c.from
    grabbed = { planned: c.planned, x: e.clientX, y: e.clientY, offset, stretch }
  }
  function drag(e: PointerEvent) {
    if (!grabbed) return
    if (!dragged && Math.hypot(e.clientX - grabbed.x, e.clientY - grabbed.y) < DRAGS) return
    dragged = true
    const cell = document.elementFromPoint(e.clientX, e.clientY)?.closest<HTMLElement>('[data-cell]')
    if (!cell) return
    const { planned, stretch, offset } = grabbed
    const was = placeOf(planned, grid.zone)
    const at = minuteAt(cell, e.clientX)
    let to = stretch ? was : { ...onLine(was, cell.dataset.line!), on: cell.dataset.day! }
    if (one() && stretch)
      to = { ...to, minutes: lengthOf(snapped(at - minutesAt(planned.startsAt, grid.zone))) }
    else if (one()) to = { ...to, at: timeOf(snapped(at - offset)) }
    held.value = { planned, to }
  }
  function drop() {
    if (!grabbed) return
    grabbed = null
    if (held.value) letGo()
    else dragged = false
  }
  useEventListener(window, 'pointermove', drag)
  useEventListener(window, 'pointerup', drop)
  /** Whether a click is one, and not the end of a drag. */
  function clicks() {
    const is = !dragged
    dragged = false
    return is
  }

  /* A keyboard. */
  /** What is said of what is held, for whoever does not see it. */
  const spoken = ref('')
  function say() {
    const h = held.value
    if (!h) return (spoken.value = 'Left where it was.')
    const line = grid.lines.find((l) => l.id === lineOfHeld(grid.by, h))?.name ?? ''
    spoken.value = `${h.planned.student}: ${fullDay(h.to.on)}, ${h.to.at}, ${h.to.minutes} minutes, ${line}. Enter puts it there, Escape leaves it.`
  }
  /** Where a key takes what is held, or nothing for a key that is none of ours. */
  function taken(e: KeyboardEvent, h: Held): Place | undefined {
    const to = h.to
    const way = { ArrowLeft: -1, ArrowRight: 1 }[e.key]
    if (way && one() && e.shiftKey) return { ...to, minutes: lengthOf(stepped(to.minutes, way)) }
    if (way && (one() || e.shiftKey)) {
      const start = Number(to.at.slice(0, 2)) * 60 + Number(to.at.slice(3))
      return { ...to, at: timeOf(stepped(start, way)) }
    }
    if (way) return grid.view.days.includes(addDays(to.on, way)) ? { ...to, on: addDays(to.on, way) } : to
    const step = { ArrowUp: -1, ArrowDown: 1 }[e.key]
    if (!step) return undefined
    const next = grid.lines[grid.lines.findIndex((l) => l.id === lineOfHeld(grid.by, h)) + step]?.id
    return next ? onLine(to, next) : undefined
  }
  async function key(e: KeyboardEvent, c: Card) {
    const h = held.value
    if (!h) {
      if (e.key.toLowerCase() !== 'm' || c.fixed || !free(c.planned)) return
      held.value = { planned: c.planned, to: placeOf(c.planned, grid.zone) }
    } else if (e.key === 'Enter') {
      e.preventDefault()
      return letGo()
    } else if (e.key === 'Escape') held.value = null
    else {
      const to = taken(e, h)
      if (!to) return
      held.value = { planned: h.planned, to }
    }
    e.preventDefault()
    say()
    await nextTick()
    document.querySelector<HTMLElement>(`[data-planned='${c.planned.id}']`)?.focus()
  }

  return { held, spoken, free, minuteAt, grab, clicks, key }
}
